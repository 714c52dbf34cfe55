import { DialogTitle } from "@headlessui/react";
import { useState } from "react";

import { Button } from "./Button";
import { Overlay } from "./Overlay";

const FOR_GOOD = "It cannot be brought back. What others still use stays, and Geduld says so.";

/** Asks once before something is gone for good. */
export function DeleteButton({ what, why = FOR_GOOD, word, onDelete }: { what: string; why?: string; word?: string; onDelete: () => void }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      {word ? (
        <Button onClick={() => setAsking(true)}>{word}</Button>
      ) : (
        <button
          type="button"
          className="shrink-0 rounded p-1 text-soft hover:text-clay"
          aria-label={`Delete ${what}`}
          title={`Delete ${what}`}
          onClick={() => setAsking(true)}
        >
          <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
            <path d="M3 3l8 8M11 3l-8 8" stroke="currentColor" strokeWidth="1.6" />
          </svg>
        </button>
      )}
      <Overlay open={asking} onClose={() => setAsking(false)} className="w-[min(440px,95vw)] p-5">
        <DialogTitle className="text-lg font-bold">Delete {what}?</DialogTitle>
        <p className="mt-1 text-[14px]">{why}</p>
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={() => setAsking(false)}>Keep it</Button>
          <Button
            className="border-clay text-clay"
            onClick={() => {
              setAsking(false);
              onDelete();
            }}
          >
            Delete
          </Button>
        </div>
      </Overlay>
    </>
  );
}
