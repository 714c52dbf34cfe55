import type { ReactNode } from "react";

import type { Verdict } from "../api/generated";
import { show, showPoints } from "../model/numbers";
import { marginWords } from "../model/verdicts";
import { Button } from "../ui/Button";
import { VerdictMark } from "../ui/VerdictMark";

/** The sentence of the chosen check: its verdict, points and margin, and why. */
export function Evidence({ verdict, onClose, children }: { verdict: Verdict; onClose: () => void; children?: ReactNode }) {
  const margin = marginWords(verdict.margin, verdict.unit);
  return (
    <div className="flex items-start gap-2.5 border-t border-rule bg-sheet px-3 py-2.5" role="status" data-evidence="">
      <VerdictMark verdict={verdict.verdict} size={20} />
      <div className="flex-1 text-[14px] leading-snug">
        <span className="font-bold">
          {verdict.title}: {verdict.verdict}
        </span>
        <span className="num text-soft">
          {" "}
          · {show(verdict.points)} of {showPoints(verdict.of)}{margin && ` · ${margin}`}
        </span>
        <p>{verdict.because}</p>
        {children && <p className="mt-1 flex flex-wrap gap-1.5">{children}</p>}
      </div>
      <Button small onClick={onClose}>
        Close
      </Button>
    </div>
  );
}
