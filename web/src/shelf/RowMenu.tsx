import { useState } from "react";

import { ThingDialog } from "./ThingDialog";
import { type Thing, WORDS } from "./useShelf";

interface Props {
  thing: Thing;
  archived: boolean;
  tags: string[];
  onTrash: (thing: Thing) => void;
}

/** The way to what can be done with a thing where it lies. */
export function RowMenu(props: Props) {
  const [open, setOpen] = useState(false);
  const { thing } = props;
  return (
    <>
      <button
        type="button"
        className="min-h-[24px] shrink-0 rounded px-1.5 py-0.5 text-soft hover:bg-sunk hover:text-ink"
        aria-haspopup="dialog"
        aria-label={`What to do with the ${WORDS[thing.kind]} ${thing.name}`}
        title="Tags, archive, trash"
        onClick={() => setOpen(true)}
      >
        <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
          <path d="M2 4.5h12M2 8h12M2 11.5h7" stroke="currentColor" strokeWidth="1.5" fill="none" />
        </svg>
      </button>
      {open && <ThingDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
