import { DialogTitle } from "@headlessui/react";
import { type Change, diffLines } from "diff";
import { useState } from "react";

import { useRevisions } from "../api/hooks";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import type { Pinned } from "./Compare";

interface Props {
  behaviour: number;
  now: string;
  open: boolean;
  onClose: () => void;
  onTake: (text: string) => void;
  /** Draws the run of an earlier text behind that of the text as it is. */
  onCompare: (pinned: Pinned) => void;
}

/** The texts a behaviour had before, to look at and to go back to. */
export function Revisions({ behaviour, now, open, onClose, onTake, onCompare }: Props) {
  const revisions = useRevisions(behaviour, open).data ?? [];
  const [chosen, setChosen] = useState<number | null>(null);
  const seen = revisions.find((revision) => revision.id === chosen) ?? revisions[0];
  return (
    <Overlay open={open} onClose={onClose} className="flex h-[min(560px,90vh)] w-[min(860px,95vw)] flex-col p-4">
      <DialogTitle className="text-lg font-bold">Earlier texts</DialogTitle>
      <p className="mb-2 text-[13px] text-soft">What has changed since: − stood in that text, + stands in it now.</p>
      <div className="flex min-h-0 flex-1 gap-3">
        <ul className="w-56 shrink-0 overflow-auto border border-rule bg-sheet">
          {revisions.map((revision) => (
            <li key={revision.id}>
              <button
                type="button"
                className={`w-full px-3 py-1.5 text-left text-[14px] ${revision.id === seen?.id ? "bg-leaf-wash" : "hover:bg-sunk"}`}
                aria-pressed={revision.id === seen?.id}
                onClick={() => setChosen(revision.id)}
              >
                {new Date(revision.saved).toLocaleString("en-GB")}
                {revision.text === now && <span className="text-soft"> · as now</span>}
                {revision.apart && <span className="block text-[13px] text-ochre">from another tab, not taken</span>}
              </button>
            </li>
          ))}
        </ul>
        <pre className="num flex-1 overflow-auto border border-rule bg-sheet p-3 text-[13px] leading-snug" tabIndex={0} aria-label="This text, with what has changed since">
          {seen && diffLines(seen.text, now).map((piece, index) => <Piece key={index} piece={piece} />)}
        </pre>
      </div>
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button
          disabled={!seen || seen.text === now}
          onClick={() => {
            if (seen) onCompare({ label: `the text of ${new Date(seen.saved).toLocaleString("en-GB")}`, text: seen.text, language: "notation" });
            onClose();
          }}
        >
          Compare its run
        </Button>
        <Button
          strong
          disabled={!seen || seen.text === now}
          onClick={() => {
            if (seen) onTake(seen.text);
            onClose();
          }}
        >
          Go back to this text
        </Button>
      </div>
    </Overlay>
  );
}

/** Lines as they are in both texts, in the earlier one alone, or only now: told by a sign too, not by colour alone. */
function Piece({ piece }: { piece: Change }) {
  const sign = piece.added ? "+" : piece.removed ? "−" : " ";
  const tone = piece.added ? "bg-leaf-wash" : piece.removed ? "bg-clay-wash" : "";
  const said = piece.added ? "only now: " : piece.removed ? "no longer: " : "";
  return piece.value
    .replace(/\n$/, "")
    .split("\n")
    .map((line, index) => (
      <span key={index} className={`block min-h-[1.3em] ${tone}`}>
        <span aria-hidden="true">{sign} </span>
        <span className="sr-only">{said}</span>
        {line}
      </span>
    ));
}
