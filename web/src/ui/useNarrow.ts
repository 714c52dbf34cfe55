import { useCallback, useSyncExternalStore } from "react";

/** Whether the window is narrower than so many pixels. */
export function useNarrow(below: number): boolean {
  const query = `(max-width: ${below - 1}px)`;
  const subscribe = useCallback(
    (told: () => void) => {
      const list = matchMedia(query);
      list.addEventListener("change", told);
      return () => list.removeEventListener("change", told);
    },
    [query],
  );
  return useSyncExternalStore(subscribe, () => matchMedia(query).matches);
}
