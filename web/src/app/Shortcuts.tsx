import { DialogTitle } from "@headlessui/react";

import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";

const KEYS: { where: string; keys: [string, string][] }[] = [
  {
    where: "Everywhere",
    keys: [
      ["Ctrl K", "open anything by its name"],
      ["?", "these keys"],
    ],
  },
  {
    where: "Bench",
    keys: [
      ["Space", "play and pause"],
      [", and .", "to the event before and the next one"],
      ["+ − 0", "zoom in, out, see all"],
      ["← → Home End", "move the cursor"],
      ["Ctrl Enter", "a new step below the line of the text"],
      ["Ctrl Z", "undo typing, drags, steps and hands; with Shift, do it again"],
      ["Escape, then Tab", "leave the program text"],
    ],
  },
  {
    where: "Handles",
    keys: [
      ["← → ↑ ↓", "move the number; Shift by large steps, Alt by fine ones"],
      ["Escape", "put it back"],
    ],
  },
  {
    where: "List of steps",
    keys: [
      ["↑ ↓", "from step to step"],
      ["Alt ↑ ↓ → ←", "move it, put it into the block above, take it out"],
      ["Space, d, Delete", "off and on, duplicate, delete"],
      ["Enter", "a new step below it"],
    ],
  },
  {
    where: "Mark sheet",
    keys: [
      ["← → ↑ ↓", "from mark to mark"],
      ["Enter", "the bench, at the moment that decided"],
      ["M", "change the mark"],
    ],
  },
  { where: "Rigs, floors, shelf", keys: [["Ctrl Z", "undo; with Shift, do it again"]] },
];

/** The keys of each view. */
export function Shortcuts({ onClose }: { onClose: () => void }) {
  return (
    <Overlay onClose={onClose} className="max-h-full w-[min(560px,95vw)] overflow-auto p-5">
      <DialogTitle className="text-lg font-bold">Keys</DialogTitle>
      {KEYS.map(({ where, keys }) => (
        <section key={where} className="mt-3">
          <h3 className="font-bold">{where}</h3>
          <dl className="mt-1 grid grid-cols-[11em_1fr] gap-x-4 gap-y-1">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="num">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
      <div className="mt-4 flex justify-end">
        <Button autoFocus onClick={onClose}>
          Close
        </Button>
      </div>
    </Overlay>
  );
}
