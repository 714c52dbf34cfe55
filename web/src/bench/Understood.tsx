import type { UnderstoodLine } from "../api/generated";

interface Props {
  lines: UnderstoodLine[];
  /** Why nothing is said: the program has errors. */
  unread: boolean;
  lit: number | null;
  onHover: (line: number | null) => void;
  onLine: (line: number) => void;
}

/** What the student's program was understood as, in the notation's words, line by line beside it. */
export function Understood({ lines, unread, lit, onHover, onLine }: Props) {
  return (
    <section className="flex h-full flex-col bg-paper" aria-label="What Geduld understood">
      <div className="border-b border-rule px-3 py-2">
        <h2 className="font-bold">What Geduld understood</h2>
        <p className="text-[13px] text-soft">The same program in the notation’s words. Compare it with the student’s lines: if a reading is wrong, the wordbook is.</p>
      </div>
      {unread && <p className="px-3 py-3 text-[14px]">The program has errors, so it cannot be read aloud. The messages say what to mend.</p>}
      <ol className="num min-h-0 flex-1 overflow-auto py-1.5 text-[13px] leading-[1.5]" onMouseLeave={() => onHover(null)}>
        {lines.map((item, index) => (
          <li key={index}>
            <button
              type="button"
              className={`flex min-h-[24px] w-full items-center gap-2 px-3 text-left hover:bg-sunk focus-visible:bg-sunk ${item.line === lit ? "bg-leaf-wash" : ""}`}
              onMouseEnter={() => onHover(item.line)}
              onFocus={() => onHover(item.line)}
              onClick={() => onLine(item.line)}
            >
              <span className="w-6 shrink-0 text-right text-soft" aria-label={`Line ${item.line}`}>
                {lines[index - 1]?.line === item.line ? "" : item.line}
              </span>
              <span className="min-w-0" style={{ paddingLeft: `${item.level * 1.4}em` }}>
                {item.text}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
