import type { Verdict, Window } from "../api/generated";
import { show } from "../model/numbers";

const FILL: Record<Window["verdict"], string> = {
  pass: "bg-leaf-wash border-leaf",
  fail: "bg-clay-wash border-clay",
  "not certain": "hatched border-soft",
  "left open": "hatched border-soft",
};

interface Props {
  check: Verdict;
  from: number;
  to: number;
  className: string;
  /** Whether there is room for the numbers of phases. */
  numbered?: boolean;
}

/** The stretches in which a check was tested, in a box that shows the time between two instants. */
export function Windows({ check, from, to, className, numbered = false }: Props) {
  const place = (at: number) => ((at - from) / (to - from)) * 100;
  return check.windows
    .filter((window) => window.to >= from && window.from <= to)
    .map((window, index) => (
      <div
        key={index}
        className={`absolute overflow-hidden border-x px-0.5 text-[11px] leading-[15px] whitespace-nowrap ${FILL[window.verdict]} ${className}`}
        style={{ left: `${place(window.from)}%`, width: `max(3px, ${place(window.to) - place(window.from)}%)` }}
        title={said(window)}
        data-window={window.verdict}
      >
        {numbered && window.label.split(":")[0]}
      </div>
    ));
}

/** Where each of them should have ended: a bracket from its beginning to that instant. */
export function Due({ check, from, to, className }: { check: Verdict; from: number; to: number; className: string }) {
  const place = (at: number) => ((at - from) / (to - from)) * 100;
  return check.windows
    .filter((window) => window.due !== null && window.due >= from && window.from <= to)
    .map((window, index) => (
      <div
        key={index}
        className={`absolute border-r-2 border-b-2 border-soft ${className}`}
        style={{ left: `${place(window.from)}%`, width: `max(3px, ${place(window.due ?? to) - place(window.from)}%)` }}
        title={said(window)}
        data-due=""
      />
    ));
}

function said(window: Window): string {
  const due = window.due === null ? "" : `, due until ${show(window.due)} s`;
  return `${window.label ? `${window.label} · ` : ""}${window.verdict} from ${show(window.from)} s to ${show(window.to)} s${due}`;
}
