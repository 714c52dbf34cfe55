import { useState } from "react";
import { Link } from "react-router";

import type { ShelfKind } from "../api/generated";
import { useShelf } from "../shelf/useShelf";
import { Button } from "../ui/Button";

const KEY = "first steps";
const TRIES = 40;

interface Step {
  word: string;
  does: string;
  /** Any of these is enough. */
  kinds: ShelfKind[];
  board: string;
}

const STEPS: Step[] = [
  { word: "Robot", does: "Say which part is on which port.", kinds: ["rigs"], board: "Rigs" },
  { word: "World", does: "Draw a floor, or bring what a robot recorded.", kinds: ["floors", "traces"], board: "Floors" },
  { word: "Behaviour", does: "Write what it should do, and see it run.", kinds: ["behaviours"], board: "Behaviours" },
  { word: "Exercise", does: "Add checks, and take what the class hands in.", kinds: ["exercises"], board: "Exercises" },
];

/** Puts the focus on what adds to a board, once the shelf is there. */
function toBoard(board: string, tries = TRIES): void {
  const button = document.querySelector<HTMLElement>(`section[aria-label='${board}'] button`);
  if (button?.checkVisibility({ visibilityProperty: true })) {
    button.scrollIntoView({ block: "center" });
    button.focus();
  } else if (tries) setTimeout(() => toBoard(board, tries - 1), 50);
}

/** Leads a teacher whose shelf is empty: four steps, each in the view where it is always done. It can be left at any time. */
export function FirstSteps() {
  const [left, setLeft] = useState(() => localStorage.getItem(KEY) === "done");
  return left ? null : (
    <Lead
      onLeave={() => {
        localStorage.setItem(KEY, "done");
        setLeft(true);
      }}
    />
  );
}

function Lead({ onLeave }: { onLeave: () => void }) {
  const kinds = useShelf().data?.kinds;
  if (!kinds) return null;
  const done = STEPS.map((step) => step.kinds.some((kind) => (kinds.find((item) => item.kind === kind)?.all ?? 0) > 0));
  const next = done.indexOf(false);
  if (next < 0) return null;
  const step = STEPS[next];
  return (
    <aside aria-label="First steps" className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule bg-leaf-wash px-4 py-1.5 text-[14px] print:hidden">
      <ol className="flex flex-wrap gap-x-3">
        {STEPS.map(({ word }, index) => (
          <li key={word} className={index === next ? "font-bold" : ""} aria-current={index === next ? "step" : undefined}>
            {done[index] ? "✓" : index + 1} {word}
            {done[index] && <span className="sr-only"> (done)</span>}
          </li>
        ))}
      </ol>
      <span className="flex-1">{step?.does}</span>
      <Link to="/" className="rounded border border-leaf bg-leaf px-2 py-1 text-[13px] text-paper" onClick={() => toBoard(step?.board ?? "")}>
        To this step
      </Link>
      <Button small onClick={onLeave}>
        Leave it
      </Button>
    </aside>
  );
}
