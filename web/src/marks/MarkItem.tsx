import type { SheetMark } from "../api/generated";
import { show } from "../model/numbers";
import { marginWords } from "../model/verdicts";
import { VerdictMark } from "../ui/VerdictMark";

/** One mark as a line: what was checked, how it went and why, and the points. */
export function MarkItem({ mark, given }: { mark: SheetMark; given: number | undefined }) {
  const margin = marginWords(mark.margin, mark.unit);
  return (
    <li className="flex break-inside-avoid items-start gap-3">
      <VerdictMark verdict={mark.verdict} size={20} />
      <span className="flex-1 leading-snug">
        <b>{mark.check}</b>: {mark.verdict}
        {mark.verdict !== "pass" && <span className="block text-[14px]">{mark.because}</span>}
        {mark.verdict === "pass" && margin && <span className="text-[14px] text-soft">, {margin}</span>}
      </span>
      <span className="num whitespace-nowrap">
        {show(given ?? mark.points)} of {show(mark.of)}
        {given !== undefined && <span className="block text-right text-[12px] text-soft">given by your teacher</span>}
      </span>
    </li>
  );
}
