import { useEffect, useState, useSyncExternalStore } from "react";

import { Saver, type Send, type Versions } from "../model/saver";
import { unsentOf } from "./unsent";

/**
 * Saves changes as they are made, and at the latest when the view is left; what did not get through is remembered in
 * this browser under `name`, and is `left` when the thing is opened again. All three are those of the first call.
 */
export function useSaved<Draft extends object>(send: Send<Draft>, versions?: Versions, name?: string) {
  const [saver] = useState(() => new Saver(send, versions, name === undefined ? undefined : unsentOf<Draft>(name)));
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
  return { saving, left: saver.left, save: saver.save, settled: saver.settled, keepMine: saver.keepMine, takeTheirs: saver.takeTheirs };
}
