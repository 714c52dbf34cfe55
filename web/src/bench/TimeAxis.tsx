import { niceStep, showSeconds, ticksBetween } from "../model/numbers";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useSpan } from "./store";

/** The ruler above the lanes, in seconds. */
export function TimeAxis({ width }: { width: number }) {
  const { from, to } = useSpan();
  const room = Math.max(1, width - GUTTER - SCALE - RIGHT);
  const step = niceStep(to - from, Math.max(2, room / 80));
  return (
    <div className="relative h-6 border-b border-rule text-[12px] text-soft" aria-hidden="true" data-axis="">
      <span className="absolute bottom-0.5 left-3">time in s</span>
      <div className="absolute inset-y-0" style={{ left: GUTTER + SCALE, width: room }}>
        {ticksBetween(from, to, step).map((tick) => (
          <span
            key={tick}
            className="num absolute bottom-0 -translate-x-1/2 border-b border-soft pb-0.5"
            style={{ left: `${share(tick, from, to) * 100}%` }}
          >
            {showSeconds(tick, step)}
          </span>
        ))}
      </div>
    </div>
  );
}
