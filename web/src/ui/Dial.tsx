import { radians } from "../floors/geometry";
import { show } from "../model/numbers";

const RADIUS = 34;
const SWEEP = 250;

/** A limit switch at a motor: from which angle to which it is pressed, and whether it is now. */
export interface Switch {
  name: string;
  from: number;
  to: number;
  pressed: boolean;
}

interface Props {
  name: string;
  /** The least and the greatest angle; null where it turns on for ever. */
  ends: [number, number] | null;
  /** Whether it is told a power, and not where to go. */
  power: boolean;
  unit: string;
  angle: number | null;
  command: number | null;
  switches: Switch[];
  /** What is said below, in place of what it is told. */
  below?: string;
}

/** What turns, with its limits: where it stands, and what it is told. */
export function Dial({ name, ends, power, unit, angle, command, switches, below }: Props) {
  const [low, high] = [ends?.[0] ?? 0, ends?.[1] ?? 360];
  // with limits the scale is open below; without them it is a whole turn, and the needle goes round
  const bearing = (value: number) => (ends ? -SWEEP / 2 + (SWEEP * (value - low)) / (high - low) : value % 360);
  const point = (value: number, reach: number): [number, number] => {
    const way = radians(bearing(value));
    return [46 + reach * Math.sin(way), 42 - reach * Math.cos(way)];
  };
  const arc = (from: number, to: number, reach: number) => {
    const [x1, y1] = point(from, reach);
    const [x2, y2] = point(to, reach);
    return `M${x1},${y1} A${reach},${reach} 0 ${bearing(to) - bearing(from) > 180 ? 1 : 0} 1 ${x2},${y2}`;
  };
  const inside = (value: number) => Math.min(high, Math.max(low, value));
  const stopped = angle !== null && ends !== null && power && command !== null && command !== 0 && ((angle >= high - 0.01 && command > 0) || (angle <= low + 0.01 && command < 0));
  const said = angle !== null ? show(angle, "deg", 0) : below === undefined ? "unknown" : "";
  return (
    <figure className="w-[92px] text-center text-[12px] leading-tight" data-dial={name} data-angle={angle === null ? "" : Math.round(angle)}>
      <svg width="92" height="78" role="img" aria-label={`${name}: ${said}${stopped ? ", against its end stop" : ""}`}>
        {ends ? (
          <path d={arc(low, high, RADIUS)} fill="none" stroke="var(--rule)" strokeWidth="5" />
        ) : (
          <circle cx="46" cy="42" r={RADIUS} fill="none" stroke="var(--rule)" strokeWidth="5" />
        )}
        {switches.map((item) => (
          <g key={item.name}>
            <title>{`${item.name}: ${item.pressed ? "pressed" : "released"}`}</title>
            <path d={arc(inside(item.from), inside(item.to), RADIUS)} fill="none" stroke="var(--reading)" strokeWidth="5" />
            <Contact at={point((inside(item.from) + inside(item.to)) / 2, RADIUS + 8)} pressed={item.pressed} />
          </g>
        ))}
        {ends?.map((end) => {
          const [x1, y1] = point(end, RADIUS - 7);
          const [x2, y2] = point(end, RADIUS + 7);
          return <line key={end} x1={x1} y1={y1} x2={x2} y2={y2} stroke={stopped && Math.abs((angle ?? 0) - end) < 0.01 ? "var(--clay)" : "var(--ink)"} strokeWidth="3.4" />;
        })}
        {!power && command !== null && <Pointer at={point(command, RADIUS)} />}
        {angle !== null && (
          <line x1="46" y1="42" x2={point(angle, RADIUS - 4)[0]} y2={point(angle, RADIUS - 4)[1]} stroke="var(--ink)" strokeWidth="2.6" strokeLinecap="round" />
        )}
        <circle cx="46" cy="42" r="3.4" fill="var(--ink)" />
        {ends?.map((end, index) => (
          <text key={end} x={index ? 78 : 14} y="76" textAnchor="middle" fontSize="10" fill="var(--soft)" className="num">
            {show(end, "", 0)}
          </text>
        ))}
      </svg>
      <figcaption>
        <b>{name}</b> <span className="num">{said}</span>
        <br />
        <span className={`num ${stopped ? "font-bold text-clay" : "text-soft"}`}>{below ?? (stopped ? "at its end stop" : command === null ? "not told yet" : power ? show(command, unit, 0) : `to ${show(command, unit, 0)}`)}</span>
      </figcaption>
    </figure>
  );
}

/** A limit switch: hollow while it is released, filled while it is pressed. */
function Contact({ at: [x, y], pressed }: { at: [number, number]; pressed: boolean }) {
  return <rect x={x - 3.5} y={y - 3.5} width="7" height="7" fill={pressed ? "var(--reading)" : "var(--sheet)"} stroke="var(--reading)" strokeWidth="1.6" />;
}

/** Where a servo or a stepper is told to go. */
function Pointer({ at: [x, y] }: { at: [number, number] }) {
  return <circle cx={x} cy={y} r="4.2" fill="none" stroke="var(--output)" strokeWidth="2" />;
}
