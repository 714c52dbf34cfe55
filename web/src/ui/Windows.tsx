import type { Verdict, VerdictWord } from "../api/generated";

const FILL: Record<VerdictWord, string> = {
  pass: "bg-leaf-wash border-leaf",
  part: "bg-ochre-wash border-ochre",
  fail: "bg-clay-wash border-clay",
  "not exercised": "border-soft",
  "not certain": "hatched border-soft",
  "not read": "border-soft",
};

/** The stretches in which a check was tested, in a box that shows the time between two instants. */
export function Windows({ check, from, to, className }: { check: Verdict; from: number; to: number; className: string }) {
  const place = (at: number) => ((at - from) / (to - from)) * 100;
  return check.windows
    .filter((window) => window.to >= from && window.from <= to)
    .map((window, index) => (
      <div
        key={index}
        className={`absolute border-x ${FILL[window.verdict]} ${className}`}
        style={{ left: `${place(window.from)}%`, width: `max(3px, ${place(window.to) - place(window.from)}%)` }}
      />
    ));
}
