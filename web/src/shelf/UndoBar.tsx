import { useEffect } from "react";

import { Button } from "../ui/Button";
import { type Thing, WORDS } from "./useShelf";

/** What was just put into the trash, and the way back; it stays until it is answered. */
export function UndoBar({ thing, onUndo, onClose }: { thing: Thing; onUndo: () => void; onClose: () => void }) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const writing = event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
      if (writing || !(event.ctrlKey || event.metaKey) || event.shiftKey || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      onUndo();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [onUndo]);
  return (
    <div role="status" className="fixed bottom-4 left-1/2 z-40 flex max-w-[92vw] -translate-x-1/2 items-center gap-3 rounded-lg border border-ink bg-paper px-4 py-2 shadow-lg" data-undo={thing.name}>
      <span>
        The {WORDS[thing.kind]} <b>{thing.name}</b> is in the trash.
      </span>
      <Button small strong title="Ctrl+Z" onClick={onUndo}>
        Put it back
      </Button>
      <Button small onClick={onClose}>
        All right
      </Button>
    </div>
  );
}
