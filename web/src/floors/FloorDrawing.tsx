import { memo, type ReactNode } from "react";

import { niceStep } from "../model/numbers";
import { hueOf, middleOf, type Point, radians } from "./geometry";
import { GROUPS, type Group, type Plan, round, type Thing } from "./plan";
import { RULER, toScreen, type View } from "./view";

interface Props {
  plan: Plan;
  view: View;
  /** Leaves out what the run moves, which is drawn over this. */
  withoutMovable?: boolean;
}

/** A floor drawn to scale, with rulers: what lies on the ground first, what stands on it last. */
export const FloorDrawing = memo(function FloorDrawing({ plan, view, withoutMovable = false }: Props) {
  const [left, bottom] = toScreen(view, [0, 0]);
  const [right, top] = toScreen(view, plan.size);
  return (
    <g>
      <Patterns />
      <rect x={left} y={top} width={right - left} height={bottom - top} fill="var(--sheet)" />
      <Rulers plan={plan} view={view} />
      {GROUPS.map((group) => (
        <g key={group}>
          {plan[group].map((thing, index) =>
            withoutMovable && thing.movable ? null : <ThingDrawing key={index} group={group} thing={thing} view={view} />,
          )}
        </g>
      ))}
      <rect
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        fill="none"
        stroke={plan.edge === "open" ? "var(--soft)" : "var(--ink)"}
        strokeWidth={plan.edge === "open" ? 1 : 3}
        strokeDasharray={plan.edge === "open" ? "6 5" : undefined}
      />
    </g>
  );
});

function Patterns() {
  return (
    <defs>
      <pattern id="gravel" width="7" height="7" patternUnits="userSpaceOnUse">
        <circle cx="1.5" cy="2" r="1" fill="var(--ghost)" />
        <circle cx="5" cy="5.3" r="0.8" fill="var(--ghost)" />
      </pattern>
      <radialGradient id="glow">
        <stop offset="0" stopColor="var(--ochre)" stopOpacity="0.42" />
        <stop offset="1" stopColor="var(--ochre)" stopOpacity="0" />
      </radialGradient>
    </defs>
  );
}

function Rulers({ plan, view }: { plan: Plan; view: View }) {
  const step = niceStep(plan.size[0], Math.max(2, (plan.size[0] * view.scale) / 58));
  const along = (length: number) => Array.from({ length: Math.floor(length / step + 1e-9) + 1 }, (_, index) => index * step);
  const [left, bottom] = toScreen(view, [0, 0]);
  const [right, top] = toScreen(view, plan.size);
  return (
    <g className="num" fontSize="10.5" fill="var(--soft)" stroke="none" aria-hidden="true">
      {along(plan.size[0]).map((x) => {
        const [at] = toScreen(view, [x, 0]);
        return (
          <g key={`x${x}`}>
            <line x1={at} x2={at} y1={top} y2={bottom} stroke="var(--rule)" strokeWidth="0.7" />
            <text x={at} y={bottom + 14} textAnchor="middle">
              {x === 0 ? "0 cm" : x}
            </text>
          </g>
        );
      })}
      {along(plan.size[1]).map((y) => {
        const [, at] = toScreen(view, [0, y]);
        return (
          <g key={`y${y}`}>
            <line x1={left} x2={right} y1={at} y2={at} stroke="var(--rule)" strokeWidth="0.7" />
            {y > 0 && (
              <text x={RULER - 5} y={at + 4} textAnchor="end">
                {y}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** One thing of a floor. */
export function ThingDrawing({ group, thing, view }: { group: Group; thing: Thing; view: View }): ReactNode {
  switch (group) {
    case "surfaces":
      return (
        <>
          <Outline thing={thing} view={view} fill="url(#gravel)" stroke="var(--ghost)" />
          <Label at={corner(thing, view)} text={thing.name ?? "surface"} />
        </>
      );
    case "ramps":
      return <Ramp thing={thing} view={view} />;
    case "tones":
      return <Outline thing={thing} view={view} fill={grey(thing.tone ?? 0)} stroke="var(--ghost)" />;
    case "paints":
      return (
        <>
          <Outline thing={thing} view={view} fill={hueOf(thing.hue ?? 0)} stroke="var(--ghost)" />
          <Label at={corner(thing, view)} text={`${thing.name ? `${thing.name}, ` : ""}${round(thing.hue ?? 0)} deg`} />
        </>
      );
    case "corridors":
      return (
        <>
          <Outline thing={thing} view={view} fill="none" stroke="var(--leaf)" dash="7 4" />
          <Label at={corner(thing, view)} text={thing.name ?? ""} colour="var(--leaf)" />
        </>
      );
    case "walls":
      return <Wall thing={thing} view={view} />;
    case "obstacles":
      return (
        <>
          <Outline
            thing={thing}
            view={view}
            fill="var(--sunk)"
            stroke="var(--ink)"
            width={thing.movable ? 1.6 : 2}
            dash={thing.movable ? "4 2.5" : undefined}
          />
          {thing.name && <Label at={toScreen(view, middleOf(thing))} text={thing.name} centred />}
        </>
      );
    case "lamps":
      return <Lamp thing={thing} view={view} />;
    case "marks":
      return <Mark thing={thing} view={view} />;
  }
}

function grey(tone: number): string {
  const level = Math.round((tone / 100) * 255);
  return `rgb(${level} ${level} ${level})`;
}

function path(points: Point[], view: View): string {
  return points.map((point) => toScreen(view, point).map((value) => value.toFixed(2)).join(",")).join(" ");
}

/** The upper left corner of a thing, on the screen. */
function corner(thing: Thing, view: View): Point {
  const points = thing.corners ?? thing.line ?? [];
  if (!points.length && thing.at) {
    const [x, y] = toScreen(view, thing.at);
    const reach = (thing.radius ?? 0) * view.scale;
    return [x - reach * 0.7 + 4, y - reach * 0.7 + 12];
  }
  const screen = points.map((point) => toScreen(view, point));
  return [Math.min(...screen.map(([x]) => x)) + 5, Math.min(...screen.map(([, y]) => y)) + 13];
}

interface OutlineProps {
  thing: Thing;
  view: View;
  fill: string;
  stroke: string;
  width?: number;
  dash?: string;
}

/** The shape of a thing: a disc, a polygon, or a line of some width. */
export function Outline({ thing, view, fill, stroke, width = 1, dash }: OutlineProps) {
  const look = { fill, stroke, strokeWidth: width, strokeDasharray: dash };
  if (thing.corners) return <polygon points={path(thing.corners, view)} {...look} />;
  if (thing.line) {
    const wide = Math.max(1.5, (thing.width ?? 2) * view.scale);
    const line = { points: path(thing.line, view), fill: "none", strokeLinejoin: "round", strokeLinecap: "round" } as const;
    return (
      <>
        <polyline {...line} stroke={stroke} strokeWidth={wide + 1.5} />
        {fill !== "none" && !fill.startsWith("url") && <polyline {...line} stroke={fill} strokeWidth={wide} />}
      </>
    );
  }
  const [x, y] = toScreen(view, thing.at ?? [0, 0]);
  return <circle cx={x} cy={y} r={(thing.radius ?? 1) * view.scale} {...look} />;
}

function Wall({ thing, view }: { thing: Thing; view: View }) {
  const [x1, y1] = toScreen(view, thing.from ?? [0, 0]);
  const [x2, y2] = toScreen(view, thing.to ?? [0, 0]);
  return <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--ink)" strokeWidth="3" strokeLinecap="round" />;
}

function Ramp({ thing, view }: { thing: Thing; view: View }) {
  const [x, y] = toScreen(view, middleOf(thing));
  const steep = Math.min(1, (thing.slope ?? 0) / 20);
  return (
    <>
      <Outline thing={thing} view={view} fill={`color-mix(in srgb, var(--reading) ${6 + 16 * steep}%, transparent)`} stroke="var(--reading)" />
      <g transform={`translate(${x} ${y}) rotate(${-(thing.uphill ?? 0)})`} stroke="var(--reading)" fill="none" strokeWidth="1.6">
        <path d="M-22 0H20M12 -6 20 0 12 6" />
      </g>
      <Label at={[x, y - 10]} text={`up ${thing.slope ?? 0} deg`} centred colour="var(--reading)" />
    </>
  );
}

function Lamp({ thing, view }: { thing: Thing; view: View }) {
  const [x, y] = toScreen(view, thing.at ?? [0, 0]);
  const rays = [0, 60, 120].map((angle) => [Math.cos(radians(angle)) * 9, Math.sin(radians(angle)) * 9] as const);
  return (
    <>
      <circle cx={x} cy={y} r={Math.sqrt(thing.light ?? 0) * 4 * view.scale} fill="url(#glow)" />
      {rays.map(([dx, dy]) => (
        <line key={dx} x1={x - dx} y1={y - dy} x2={x + dx} y2={y + dy} stroke="var(--ochre)" strokeWidth="1.6" />
      ))}
      <circle cx={x} cy={y} r="5" fill="var(--sheet)" stroke="var(--ochre)" strokeWidth="1.8" />
      <Label at={[x, y - 14]} text={`${thing.name ?? "lamp"}, ${thing.light ?? 0} lx`} centred colour="var(--ochre)" />
    </>
  );
}

function Mark({ thing, view }: { thing: Thing; view: View }) {
  const [x, y] = toScreen(view, thing.at ?? [0, 0]);
  return (
    <>
      <g transform={`translate(${x} ${y}) rotate(${-(thing.heading ?? 0)})`} stroke="var(--ink)" strokeWidth="1.4" fill="none">
        <path d="M-6 0H6M0 -6V6" />
        {thing.heading !== undefined && <path d="M6 0H14M10.5 -3.5 14 0 10.5 3.5" />}
      </g>
      <Label at={[x + 7, y + 15]} text={thing.name ?? ""} bold />
    </>
  );
}

interface LabelProps {
  at: Point;
  text: string;
  centred?: boolean;
  bold?: boolean;
  colour?: string;
}

/** A word on the floor, with a halo so that it can be read on anything. */
function Label({ at: [x, y], text, centred, bold, colour = "var(--ink)" }: LabelProps) {
  return (
    <text
      x={x}
      y={centred ? y + 4 : y}
      textAnchor={centred ? "middle" : "start"}
      fontSize="11.5"
      fontWeight={bold ? 700 : 400}
      fill={colour}
      stroke="var(--sheet)"
      strokeWidth="3"
      strokeLinejoin="round"
      style={{ paintOrder: "stroke" }}
      pointerEvents="none"
    >
      {text}
    </text>
  );
}
