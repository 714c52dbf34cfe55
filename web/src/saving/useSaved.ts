import { useEffect, useState, useSyncExternalStore } from "react";

import { Saver, type Send, type Versions } from "../model/saver";

/** Saves changes as they are made, and at the latest when the view is left. `send` and `versions` are those of the first call. */
export function useSaved<Draft extends object>(send: Send<Draft>, versions?: Versions) {
  const [saver] = useState(() => new Saver(send, versions));
  const saving = useSyncExternalStore(saver.subscribe, saver.current);
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      if (saver.flush()) event.preventDefault();
    };
    addEventListener("beforeunload", leave);
    return () => {
      removeEventListener("beforeunload", leave);
      saver.flush();
    };
  }, [saver]);
  return { saving, save: saver.save, settled: saver.settled, keepMine: saver.keepMine, takeTheirs: saver.takeTheirs };
}
