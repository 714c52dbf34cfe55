import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";

import { api } from "../api/client";
import type { Behaviour } from "../api/types";
import { Saver } from "../model/saver";

/** Saves a behaviour's text as it is typed, and at the latest when the view is left. */
export function useSaved(id: number) {
  const client = useQueryClient();
  const [saver] = useState(
    () =>
      new Saver(async (text) => {
        const saved = await api.patch<Behaviour>(`behaviours/${id}`, { text });
        client.setQueryData(["behaviour", id], saved);
        void client.invalidateQueries({ queryKey: ["behaviours"] });
      }),
  );
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
