import type { Memory } from "../model/saver";

/** Remembers in this browser what of a thing is not saved yet; `name` is the thing's, such as `behaviour 3`. */
export function unsentOf<Draft>(name: string): Memory<Draft> {
  const key = `geduld unsaved ${name}`;
  return {
    read: () => {
      try {
        return JSON.parse(localStorage.getItem(key) ?? "null") as ReturnType<Memory<Draft>["read"]>;
      } catch {
        return null; // not written by this
      }
    },
    write: (unsent) => {
      try {
        if (unsent) localStorage.setItem(key, JSON.stringify(unsent));
        else localStorage.removeItem(key);
      } catch {
        // a browser that keeps nothing, or has no room: the page itself still has it
      }
    },
  };
}
