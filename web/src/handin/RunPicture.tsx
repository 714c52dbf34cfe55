import { useRef } from "react";

import type { Lane, Picture } from "../api/generated";
import { poseAt } from "../bench/ride";
import { useSize } from "../bench/useSize";
import { FloorDrawing } from "../floors/FloorDrawing";
import { isWorktop, planOf } from "../floors/plan";
import { fit, toScreen } from "../floors/view";
import { show } from "../model/numbers";
import { isLively, valueAt } from "../model/signals";
import { Strip } from "../ui/Strip";

const MOST_LANES = 6;

/** A run at a glance, at the moment that it is about: the way on the floor, and what was read and commanded. */
export function RunPicture({ picture, text, whose = "Your run" }: { picture: Picture; text: string; whose?: string }) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { run, at } = picture;
  const words = new Set(text.match(/[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}_]+)?/gu) ?? []);
  const named = (lane: Lane) => words.has(lane.part) || words.has(lane.part.split(".")[0] ?? "");
  const lanes = [...(run.readings ?? []).filter((lane) => named(lane) && !lane.texts), ...run.outputs.filter(isLively)].slice(0, MOST_LANES);
  const floor = picture.floor;
  const share = at === null ? null : Math.min(1, at / (run.lasted || 1));
  return (
    <figure className="space-y-2" data-picture={picture.case}>
      <figcaption className="text-[14px]">
        {at === null ? `${whose} in "${picture.case}"` : `${whose} in "${picture.case}", at ${show(at, "s", 2)}`}
      </figcaption>
      {floor && !isWorktop(floor) && run.ride && (
        <div ref={box} className="w-full">
          {width > 0 && <Way floor={floor} width={width} picture={picture} />}
        </div>
      )}
      {lanes.map((lane) => (
        <div key={lane.part}>
          <p className="num flex justify-between text-[12.5px] leading-tight text-soft">
            <span>{lane.part}</span>
            {at !== null && <span>{valueText(lane, at, picture)}</span>}
          </p>
          <div className="relative border-b border-rule">
            <Strip lane={lane} end={run.lasted} height={34} stepped />
            {share !== null && <span className="absolute inset-y-0 w-px bg-clay" style={{ left: `${share * 100}%` }} />}
          </div>
        </div>
      ))}
      <p className="num flex justify-between text-[12px] text-soft">
        <span>0 s</span>
        <span>{show(run.lasted, "s", 1)}</span>
      </p>
    </figure>
  );
}

function valueText(lane: Lane, at: number, { run, units }: Picture): string {
  const value = valueAt(lane, at);
  const unit = units[lane.part] ?? "";
  if (value === null) return "no reading";
  if (unit) return show(value, unit);
  const [on, off] = run.outputs.includes(lane) ? ["on", "off"] : ["pressed", "released"];
  return value ? on : off;
}

function Way({ floor, width, picture }: { floor: Record<string, unknown>; width: number; picture: Picture }) {
  const plan = planOf(floor);
  const height = Math.min(320, (width * plan.size[1]) / plan.size[0] + 40);
  const view = fit(plan.size, width, height);
  const { ride, lasted } = picture.run;
  if (!ride) return null;
  const at = picture.at ?? lasted;
  const points = ride.times.flatMap((time, index) => (time <= at ? [toScreen(view, [ride.x[index] ?? 0, ride.y[index] ?? 0])] : []));
  const [x, y] = toScreen(view, poseAt(ride, at).at);
  return (
    <svg width={width} height={height} role="img" aria-label={`The way of the robot up to ${show(at, "s", 2)}`}>
      <FloorDrawing plan={plan} view={view} />
      <polyline points={points.map((point) => point.map((value) => value.toFixed(1)).join(",")).join(" ")} fill="none" stroke="var(--leaf)" strokeWidth="2.4" strokeLinejoin="round" />
      <circle cx={x} cy={y} r="6" fill="var(--clay)" stroke="var(--sheet)" strokeWidth="2" />
    </svg>
  );
}
