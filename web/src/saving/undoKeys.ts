import type { KeyboardEvent } from "react";

/** Ctrl+Z and Ctrl+Shift+Z (or with the command key) anywhere in a view. */
export function undoKeys(undo: (() => void) | undefined, redo: (() => void) | undefined) {
  return (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
    event.preventDefault();
    (event.shiftKey ? redo : undo)?.();
  };
}
