import { useEffect, useState, useSyncExternalStore } from "react";

import { Saver } from "../model/saver";

/** Saves a text as it is typed, and at the latest when the view is left. `send` is taken from the first call. */
export function useSaved(send: (text: string) => Promise<void>) {
  const [saver] = useState(() => new Saver(send));
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
  return { saving, save: saver.save };
}
