import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** What the address says: the trace, the exercise and the moment, so that a link opens the same view again. */
export function useAddress() {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (name: string, value: string | null) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          if (value === null) next.delete(name);
          else next.set(name, value);
          next.delete("at");
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const number = (name: string) => {
    const value = params.get(name);
    return value !== null && value !== "" && Number.isFinite(Number(value)) ? Number(value) : null;
  };
  return { number, text: (name: string) => params.get(name), set };
}
