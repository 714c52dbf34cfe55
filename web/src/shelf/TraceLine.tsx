import { useLanes } from "../api/hooks";
import type { Lane, Trace } from "../api/generated";
import { rangeOf } from "../model/signals";

const WIDTH = 280;
const HEIGHT = 34;

/** A trace at a glance: its first channel that is more than on and off, small. */
export function TraceLine({ trace }: { trace: Trace }) {
  const lanes = useLanes(trace.id, 0, trace.duration_us / 1e6, 140).data?.lanes ?? [];
  const lane = lanes.find((item) => item.part === "range") ?? lanes.find((item) => item.part.endsWith(".angle")) ?? lanes.find((item) => new Set(item.values).size > 3);
  if (!lane) return <div style={{ height: HEIGHT }} />;
  return (
    <figure className="min-w-0 flex-1">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" className="h-[34px] w-full" role="img" aria-label={`${lane.part} over time`}>
        <path d={path(lane, trace.duration_us / 1e6)} fill="none" stroke="var(--reading)" strokeWidth="1.3" vectorEffect="non-scaling-stroke" />
      </svg>
      <figcaption className="text-[12px] leading-none text-soft">{lane.part} over time</figcaption>
    </figure>
  );
}

function path(lane: Lane, end: number): string {
  const [low, high] = rangeOf([lane], []);
  let pen = "M";
  return lane.values
    .map((value, index) => {
      if (value === null) {
        pen = "M";
        return "";
      }
      const x = ((lane.times[index] ?? 0) / end) * WIDTH;
      const y = HEIGHT - ((value - low) / (high - low)) * HEIGHT;
      const point = `${pen}${x.toFixed(1)} ${y.toFixed(1)}`;
      pen = "L";
      return point;
    })
    .join("");
}
