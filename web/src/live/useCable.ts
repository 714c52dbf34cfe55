import { create } from "zustand";

import { answer } from "../api/client";
import { rigsLiveLinesCreate } from "../api/generated";
import { type Cable, readCable } from "./cable";

interface CableState {
  /** The rig whose board hangs on the cable. */
  rig: number | null;
  state: "closed" | "open" | "lost";
  trouble: string;
  open: (rig: number, baud: number) => Promise<void>;
  close: () => void;
}

let cable: Cable | null = null;

/** The cable stays open from page to page, so that a program can be played along on the bench. */
export const useCable = create<CableState>((set) => ({
  rig: null,
  state: "closed",
  trouble: "",
  open: async (rig, baud) => {
    void cable?.stop();
    set({ rig, trouble: "" });
    try {
      cable = await readCable(
        baud,
        async (lines) => {
          await answer(rigsLiveLinesCreate({ path: { id: rig }, body: { lines } }));
        },
        (state) => set({ state }),
      );
    } catch (reason) {
      set({ trouble: reason instanceof Error ? reason.message : "The cable could not be opened." });
    }
  },
  close: () => {
    void cable?.stop();
  },
}));
