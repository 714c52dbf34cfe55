import type { Hint } from "../api/types";

const LEVELS: Record<Hint["level"], string> = { error: "Error", warning: "Warning", advice: "Advice" };
const TONES: Record<Hint["level"], string> = { error: "text-clay", warning: "text-ochre", advice: "text-reading" };

/** The hints as a list under the text; a press goes to the line. */
export function Messages({ hints, onLine }: { hints: Hint[]; onLine: (line: number) => void }) {
  if (!hints.length) {
    return <p className="px-3 py-2 text-[13px] text-soft">No message: the program fits the rig.</p>;
  }
  return (
    <ul className="divide-y divide-rule" aria-label="Messages about the program">
      {hints.map((hint, index) => (
        <li key={index}>
          <button
            type="button"
            className="flex w-full gap-2 px-3 py-1.5 text-left text-[13px] leading-snug hover:bg-sunk"
            onClick={() => onLine(hint.line)}
          >
            <span className={`num shrink-0 font-semibold ${TONES[hint.level]}`}>
              {LEVELS[hint.level]}, line {hint.line}
            </span>
            <span>
              {hint.message} <span className="text-soft">{hint.remedy}</span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
