import { useEffect } from "react";

/** The keys that hold in every view: Ctrl+K (or with the command key), and ? where nobody is writing. */
export function useAppKeys(onFind: () => void, onKeys: () => void) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const writing = event.target instanceof HTMLElement && (event.target.isContentEditable || event.target.matches("input, textarea, select"));
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        onFind();
      } else if (event.key === "?" && !writing && !event.ctrlKey && !event.metaKey) onKeys();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [onFind, onKeys]);
}
