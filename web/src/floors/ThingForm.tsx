import { ONE_OF, type Point } from "./geometry";
import { NumberField } from "../ui/NumberField";
import { type Group, type Thing, UNIT_OF } from "./plan";

interface Props {
  group: Group | "start";
  thing: Thing;
  onChange: (thing: Thing) => void;
}

type NumberKey = { [Key in keyof Thing]-?: Thing[Key] extends number | undefined ? Key : never }[keyof Thing];

const WORDS: Partial<Record<NumberKey, string>> = {
  radius: "Radius",
  width: "Line width",
  heading: "Heading",
  mass: "Mass",
  friction: "Friction",
  travel_slip: "Slip, straight",
  turn_slip: "Slip, turning",
  rolling: "Rolling drag",
  tone: "Tone",
  hue: "Hue",
  slope: "Slope",
  uphill: "Uphill towards",
  height: "Height",
  light: "Light at 1 m",
};

/** Numbers that a thing may have though its file does not say them, with what then holds. */
const MAY_HAVE: Partial<Record<Group | "start", Partial<Record<NumberKey, number>>>> = {
  surfaces: { travel_slip: 0, turn_slip: 0, rolling: 2 },
  lamps: { height: 60 },
  marks: { heading: 0 },
  start: { heading: 0 },
};
const HINTS: Partial<Record<NumberKey, string>> = {
  tone: "0 % is black, 100 % is white",
  hue: "0 deg is red, 120 deg green, 240 deg blue",
  turn_slip: "so much of a turn is lost",
};

/** The exact numbers of one thing. */
export function ThingForm({ group, thing, onChange }: Props) {
  const pushed = group === "obstacles" && thing.movable ? { mass: 500, friction: 40 } : {};
  const values: Partial<Record<NumberKey, number>> = { ...MAY_HAVE[group], ...pushed };
  for (const key of Object.keys(WORDS) as NumberKey[]) if (thing[key] !== undefined) values[key] = thing[key];
  const word = group === "start" ? "start" : ONE_OF[group];
  const set = (changes: Partial<Thing>) => onChange({ ...thing, ...changes });
  const list = (key: "corners" | "line", points: Point[]) => (
    <Points
      word={key === "line" ? "Points of the line" : "Corners"}
      points={points}
      least={key === "line" ? 2 : 3}
      onChange={(next) => set({ [key]: next })}
    />
  );
  return (
    <div className="space-y-1.5 text-[14px]">
      {group !== "start" && (
        <label className="flex items-center gap-1.5">
          <span className="flex-1">Name</span>
          <input
            className="w-[150px] rounded border border-rule bg-sheet px-1.5 py-0.5"
            value={thing.name ?? ""}
            maxLength={60}
            aria-label={`Name of the ${word}`}
            onChange={(event) => set({ name: event.target.value || undefined })}
          />
        </label>
      )}
      {group === "obstacles" && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-[var(--leaf)]"
            checked={thing.movable === true}
            onChange={(event) => set(event.target.checked ? { movable: true, name: thing.name ?? "crate" } : { movable: undefined })}
          />
          can be pushed and moved
        </label>
      )}
      {thing.at && <PointFields word="At" point={thing.at} onChange={(at) => set({ at })} />}
      {thing.from && <PointFields word="From" point={thing.from} onChange={(from) => set({ from })} />}
      {thing.to && <PointFields word="To" point={thing.to} onChange={(to) => set({ to })} />}
      {(Object.entries(values) as [NumberKey, number][]).map(([key, value]) => (
        <div key={key}>
          <NumberField
            word={WORDS[key] ?? key}
            label={`${WORDS[key] ?? key} of the ${word}`}
            unit={UNIT_OF[key] ?? ""}
            value={value}
            onChange={(next) => set({ [key]: next })}
          />
          {HINTS[key] && <p className="text-[12.5px] text-soft">{HINTS[key]}</p>}
        </div>
      ))}
      {thing.corners && list("corners", thing.corners)}
      {thing.line && list("line", thing.line)}
    </div>
  );
}

export function PointFields({ word, point: [x, y], onChange }: { word: string; point: Point; onChange: (point: Point) => void }) {
  return (
    <fieldset className="flex items-center gap-1">
      <legend className="sr-only">{word}</legend>
      <span className="flex-1" aria-hidden="true">
        {word}
      </span>
      <NumberField label={`${word}, x`} unit="cm" value={x} onChange={(next) => onChange([next, y])} />
      <NumberField label={`${word}, y`} unit="cm" value={y} onChange={(next) => onChange([x, next])} />
    </fieldset>
  );
}

interface PointsProps {
  word: string;
  points: Point[];
  least: number;
  onChange: (points: Point[]) => void;
}

function Points({ word, points, least, onChange }: PointsProps) {
  const add = () => {
    const [ax, ay] = points.at(-1) ?? [0, 0];
    const [bx, by] = points[0] ?? [0, 0];
    onChange([...points, least === 2 ? [ax + 20, ay] : [(ax + bx) / 2 + 5, (ay + by) / 2 + 5]]);
  };
  return (
    <div className="pt-1">
      <p className="font-bold">{word}</p>
      {points.map((point, index) => (
        <div key={index} className="flex items-center gap-1">
          <div className="flex-1">
            <PointFields word={String(index + 1)} point={point} onChange={(next) => onChange(points.map((item, place) => (place === index ? next : item)))} />
          </div>
          <button
            type="button"
            className="rounded px-1 text-soft hover:text-clay disabled:opacity-40"
            disabled={points.length <= least}
            aria-label={`Take out point ${index + 1}`}
            onClick={() => onChange(points.filter((_, place) => place !== index))}
          >
            ✕
          </button>
        </div>
      ))}
      <button type="button" className="mt-0.5 text-[13px] text-leaf underline underline-offset-2" onClick={add}>
        Add a point
      </button>
    </div>
  );
}
