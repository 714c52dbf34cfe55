import { useEffect } from "react";

type Pressed = Pick<KeyboardEvent, "ctrlKey" | "metaKey" | "shiftKey" | "key" | "preventDefault">;

/** Ctrl+Z and Ctrl+Shift+Z (or with the command key) anywhere in a view. */
export function undoKeys(undo: (() => void) | undefined, redo: (() => void) | undefined) {
  return (event: Pressed) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
    event.preventDefault();
    (event.shiftKey ? redo : undo)?.();
  };
}

/** The same wherever the focus is, but for fields of their own: what is typed into one is undone there. */
export function useUndoKeys(undo: (() => void) | undefined, redo: (() => void) | undefined): void {
  useEffect(() => {
    const keys = undoKeys(undo, redo);
    const press = (event: globalThis.KeyboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea, select, .cm-editor, [role='dialog']") === null) keys(event);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [undo, redo]);
}
