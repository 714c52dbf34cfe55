import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from "@headlessui/react";

import type { BenchAnswer } from "../api/generated";
import { counted } from "../model/numbers";
import { Button } from "../ui/Button";
import { later } from "../ui/later";
import type { Language } from "../model/languages";
import { useAxis } from "./store";

/** A program whose run is drawn behind: its text as it was when it was pinned. */
export interface Pinned {
  label: string;
  text: string;
  language: Language;
}

interface Props {
  pinned: Pinned | null;
  /** What else can be drawn behind: its name, and how its text is come by. */
  others: { label: string; load: () => Promise<Pinned> }[];
  /** The program as it is now. */
  now: Pinned;
  onPin: (pinned: Pinned | null) => void;
}

const NOTHING = "nothing of mine";
const NOW = "this run, as it is now";

/** Chooses the run that is drawn behind this one. */
export const CompareChoice = later(function CompareChoice({ pinned, others, now, onPin }: Props) {
  const choose = (choice: string) => {
    if (choice === NOTHING) onPin(null);
    else if (choice === NOW) onPin({ ...now, label: "the run that was pinned" });
    else void others.find((other) => other.label === choice)?.load().then(onPin);
  };
  return (
    <Listbox value={pinned?.label ?? NOTHING} onChange={choose}>
      <ListboxButton className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] text-ink hover:bg-sunk data-open:bg-leaf-wash" title="Draws another run behind this one">
        Compare
      </ListboxButton>
      <ListboxOptions anchor={{ to: "bottom start", gap: 4 }} modal={false} className="z-50 max-w-[300px] rounded border border-rule bg-paper py-1 text-[14px] shadow-lg focus:outline-none">
        {[NOW, ...others.map((other) => other.label), ...(pinned ? [NOTHING] : [])].map((label) => (
          <ListboxOption key={label} value={label} className="cursor-pointer truncate px-3 py-1 data-focus:bg-leaf-wash">
            {label === NOTHING ? "Compare no more" : `With ${label}`}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
});

/** Where this run first differs from the one behind it, in a sentence, and the way from difference to difference. */
export function CompareLine({ label, answer, onClose }: { label: string; answer: BenchAnswer | undefined; onClose?: () => void }) {
  const { cursor, move } = useAxis();
  const found = answer?.differences ?? [];
  const next = found.find((item) => item.from > cursor + 1e-6);
  const before = found.findLast((item) => item.from < cursor - 1e-6);
  const here = found.findLast((item) => item.from <= cursor + 1e-6 && item.to > cursor) ?? found[0];
  const said = !answer?.behind ? "It does not run here." : here ? here.words : "Every output is the same, all the time.";
  return (
    <div className="flex items-center gap-2 border-b border-rule bg-sunk px-3 py-1 text-[13px]" data-compared="">
      <span className="min-w-0 flex-1 truncate" title={said} role="status">
        <b>Behind it: {label}.</b> {said}
      </span>
      {found.length > 0 && (
        <>
          <span className="shrink-0 text-soft">{counted(found.length, "difference")}</span>
          <Button small disabled={!before} onClick={() => before && move(before.from)} aria-label="To the difference before">
            ‹
          </Button>
          <Button small disabled={!next} onClick={() => next && move(next.from)} aria-label="To the next difference">
            ›
          </Button>
        </>
      )}
      {onClose && (
        <Button small onClick={onClose}>
          Compare no more
        </Button>
      )}
    </div>
  );
}
