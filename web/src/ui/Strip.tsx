import type { Lane } from "../api/generated";
import { rangeOf } from "../model/signals";

const WIDTH = 600;

interface Props {
  lane: Lane;
  /** The length of what is shown, in s. */
  end: number;
  height: number;
  /** Whether the value holds until the next one, rather than going on to it. */
  stepped?: boolean;
}

/** A signal at a glance, without numbers. */
export function Strip({ lane, end, height, stepped = false }: Props) {
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} preserveAspectRatio="none" className="block w-full" style={{ height }} role="img" aria-label={`${lane.part} over time`}>
      {lane.texts ? (
        lane.times.map((time) => <rect key={time} x={(time / end) * WIDTH} y={height * 0.2} width="3" height={height * 0.6} fill="var(--text-token)" />)
      ) : (
        <path d={path(lane, end, height, stepped)} fill="none" stroke="var(--reading)" strokeWidth="1.3" vectorEffect="non-scaling-stroke" />
      )}
    </svg>
  );
}

function path(lane: Lane, end: number, height: number, stepped: boolean): string {
  const [low, high] = rangeOf([lane], []);
  let pen = "M";
  const points = lane.values.map((value, index) => {
    if (value === null) {
      pen = "M";
      return "";
    }
    const x = ((lane.times[index] ?? 0) / (end || 1)) * WIDTH;
    const y = height - ((value - low) / (high - low)) * height;
    const point = pen === "L" && stepped ? `H${x.toFixed(1)}V${y.toFixed(1)}` : `${pen}${x.toFixed(1)} ${y.toFixed(1)}`;
    pen = "L";
    return point;
  });
  const last = lane.values.at(-1);
  return points.join("") + (last !== null && last !== undefined ? `H${WIDTH}` : "");
}
