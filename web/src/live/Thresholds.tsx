import type { LiveReading, Threshold } from "../api/generated";
import { comparison, holds } from "../model/holds";
import { show } from "../model/numbers";

/** What a text compares a reading with, and which of it holds now. */
export function Thresholds({ text, thresholds, reading }: { text: string; thresholds: Threshold[]; reading: LiveReading }) {
  return thresholds
    .filter((threshold) => threshold.part === reading.name)
    .map((threshold) => {
      const now = holds(text, threshold, reading.value);
      return (
        <span key={`${threshold.line}:${threshold.column}`} className="block text-[12.5px] text-soft" data-threshold={reading.name}>
          line {threshold.line}: <span className="num">{comparison(text, threshold) ?? ""} {show(threshold.value, reading.unit, 1)}</span>
          {now !== null && <b className={now ? "text-leaf" : ""}>{now ? " holds" : " does not hold"}</b>}
          {now === null && reading.value !== null && (reading.value < threshold.value ? ", now below it" : ", now above it")}
        </span>
      );
    });
}
