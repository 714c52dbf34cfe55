import { memo } from "react";

import type { Hint } from "../api/generated";
import { fixWords } from "../model/handles";
import { Button } from "../ui/Button";

const LEVELS: Record<Hint["level"], string> = { error: "Error", warning: "Warning", advice: "Advice" };
const TONES: Record<Hint["level"], string> = { error: "text-clay", warning: "text-ochre", advice: "text-reading" };

interface Props {
  hints: Hint[];
  onLine: (line: number) => void;
  onFix: (hint: Hint) => void;
}

/** The hints as a list under the text; a press goes to the line, a second button mends it. */
export const Messages = memo(function Messages({ hints, onLine, onFix }: Props) {
  if (!hints.length) {
    return <p className="px-3 py-2 text-[13px] text-soft">No message: the program fits the rig.</p>;
  }
  return (
    <ul className="divide-y divide-rule" aria-label="Messages about the program">
      {hints.map((hint, index) => (
        <li key={index} className="flex items-start hover:bg-sunk">
          <button
            type="button"
            className="flex min-w-0 flex-1 gap-2 px-3 py-1.5 text-left text-[13px] leading-snug"
            onClick={() => onLine(hint.line)}
          >
            <span className={`num shrink-0 font-semibold ${TONES[hint.level]}`}>
              {LEVELS[hint.level]}, line {hint.line}
            </span>
            <span>
              {hint.message} <span className="text-soft">{hint.remedy}</span>
            </span>
          </button>
          {hint.fix !== null && (
            <span className="shrink-0 py-1.5 pr-3">
              <Button small onClick={() => onFix(hint)} title={fixWords(hint.fix)} aria-label={`Mend line ${hint.line}: ${fixWords(hint.fix)}`}>
                Mend
              </Button>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
});
