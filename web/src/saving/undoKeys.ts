import type { KeyboardEvent } from "react";

/** Ctrl+Z and Ctrl+Shift+Z (or with the command key) anywhere in a view. */
export function undoKeys(undo: (() => void) | undefined, redo: (() => void) | undefined) {
  return (event: KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
    event.preventDefault();
    (event.shiftKey ? redo : undo)?.();
  };
}

/** Keys that fields of their own use: what is typed into one is undone there. */
export function unlessTyping(keys: (event: KeyboardEvent) => void) {
  return (event: KeyboardEvent) => {
    if ((event.target as HTMLElement).closest("input, textarea, select, .cm-editor, [role='dialog']") === null) keys(event);
  };
}
