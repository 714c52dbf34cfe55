import { type KeyboardEvent, useEffect, useRef } from "react";

import { type Changed, copyStep, dropStep, moveStep, rowsOf, stepIn, stepOut, switchStep } from "../model/steps";
import { Button } from "../ui/Button";

interface Props {
  text: string;
  /** What is listed: a program's steps, which stand in each other, or checks. */
  of?: "step" | "check";
  lit: number[];
  /** The line that is chosen. */
  line: number;
  onLine: (line: number) => void;
  onHover: (line: number | null) => void;
  onText: (text: string) => void;
  onInsert: () => void;
}

/** A text as a list of its steps or checks. Text and list are the same thing: what is done here is written there. */
export function StepList({ text, of = "step", lit, line, onLine, onHover, onText, onInsert }: Props) {
  const rows = rowsOf(text);
  const list = useRef<HTMLUListElement>(null);
  const chosen = rows.findLast((row) => row.line <= line) ?? rows[0];
  const act = (change: (text: string, line: number) => Changed) => {
    if (!chosen?.step) return;
    const next = change(text, chosen.line);
    if (next.text !== text) onText(next.text);
    onLine(next.line);
  };
  const acts: Record<string, () => void> = {
    "Alt+ArrowUp": () => act((all, at) => moveStep(all, at, -1)),
    "Alt+ArrowDown": () => act((all, at) => moveStep(all, at, 1)),
    ...(of === "step" && { "Alt+ArrowRight": () => act(stepIn), "Alt+ArrowLeft": () => act(stepOut) }),
    " ": () => act(switchStep),
    d: () => act(copyStep),
    Delete: () => act(dropStep),
    Enter: onInsert,
    ArrowDown: () => onLine(rows[rows.findIndex((row) => row === chosen) + 1]?.line ?? line),
    ArrowUp: () => onLine(rows[rows.findIndex((row) => row === chosen) - 1]?.line ?? line),
  };
  const press = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    const action = acts[`${event.altKey ? "Alt+" : ""}${event.key}`];
    if (!action) return;
    event.preventDefault();
    event.stopPropagation();
    action();
  };
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosen?.line]);
  const off = !chosen?.step;
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap gap-1 border-b border-rule px-2 py-1.5" role="toolbar" aria-label={`What to do with the chosen ${of}`}>
        <Button small strong onClick={onInsert}>
          New {of}
        </Button>
        <Button small disabled={off} onClick={acts["Alt+ArrowUp"]} title="Alt and the arrow up" aria-label="Move up">
          ↑
        </Button>
        <Button small disabled={off} onClick={acts["Alt+ArrowDown"]} title="Alt and the arrow down" aria-label="Move down">
          ↓
        </Button>
        {of === "step" && (
          <>
            <Button small disabled={off} onClick={acts["Alt+ArrowRight"]} title="Alt and the arrow to the right" aria-label="Into the block above it">
              →
            </Button>
            <Button small disabled={off} onClick={acts["Alt+ArrowLeft"]} title="Alt and the arrow to the left" aria-label="Out of its block">
              ←
            </Button>
          </>
        )}
        <Button small disabled={off} onClick={acts[" "]} title="Space">
          {chosen?.off ? "On" : "Off"}
        </Button>
        <Button small disabled={off} onClick={acts["d"]} title="d">
          Duplicate
        </Button>
        <Button small disabled={off} onClick={acts["Delete"]} title="Delete">
          Delete
        </Button>
      </div>
      <ul ref={list} role="listbox" tabIndex={0} aria-label={of === "step" ? "Steps of the program" : "Checks of the exercise"} aria-activedescendant={chosen && `${of}-${chosen.line}`} className="min-h-0 flex-1 overflow-auto py-1 text-[13px]" onKeyDown={press}>
        {rows.map((row) => (
          <li
            key={row.line}
            id={`${of}-${row.line}`}
            role="option"
            aria-selected={row === chosen}
            className={`flex cursor-pointer gap-2 py-0.5 pr-2 leading-snug ${row === chosen ? "bg-leaf-wash" : lit.includes(row.line) ? "bg-sunk" : "hover:bg-sunk"}`}
            onClick={() => onLine(row.line)}
            onMouseEnter={() => onHover(row.line)}
            onMouseLeave={() => onHover(null)}
          >
            <span className="num w-7 shrink-0 text-right text-soft">{row.line}</span>
            <span className={`num ${row.off ? "text-soft line-through" : row.step ? "" : "text-soft"}`} style={{ paddingLeft: row.level * 18 }}>
              {row.text}
              {row.off && <span className="sr-only"> (switched off)</span>}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
