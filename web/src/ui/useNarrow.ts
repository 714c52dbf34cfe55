import { useCallback, useMemo, useSyncExternalStore } from "react";

/** Whether the window is narrower than so many pixels. */
export function useNarrow(below: number): boolean {
  const list = useMemo(() => matchMedia(`(max-width: ${below - 1}px)`), [below]);
  const subscribe = useCallback(
    (told: () => void) => {
      list.addEventListener("change", told);
      return () => list.removeEventListener("change", told);
    },
    [list],
  );
  return useSyncExternalStore(subscribe, () => list.matches);
}
