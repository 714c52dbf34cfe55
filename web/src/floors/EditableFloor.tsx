import { type KeyboardEvent, type PointerEvent, useMemo, useRef } from "react";

import { useSize } from "../bench/useSize";
import { show } from "../model/numbers";
import { FloorDrawing, Outline } from "./FloorDrawing";
import { away, degrees, middleOf, moved, type Point, pointsOf, radians } from "./geometry";
import { type Plan, round, type Thing } from "./plan";
import { isSame, movedOnGrid, type Selection, selectable, snapped, thingOf, turnedBy, withPoint, withThing, wordFor } from "./selection";
import { fit, toFloor, toScreen, type View } from "./view";

interface Props {
  plan: Plan;
  chosen: Selection;
  step: number;
  onChoose: (selection: Selection) => void;
  onChange: (plan: Plan, gesture: string) => void;
  onDelete: () => void;
}

type Grip = { kind: "whole" } | { kind: "point"; number: number } | { kind: "radius" } | { kind: "turn" };
interface Drag {
  grip: Grip;
  selection: Selection;
  from: Point;
  thing: Thing;
}

const ARROWS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
const TURN_STEP = 5;

/** The floor to scale, with everything on it to be chosen, dragged, turned and moved by keys. */
export function EditableFloor({ plan, chosen, step, onChoose, onChange, onDelete }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const { width, height } = useSize(box);
  const view = useMemo(() => fit(plan.size, width, height), [plan.size, width, height]);
  const pointAt = (event: PointerEvent): Point => {
    const edge = box.current?.getBoundingClientRect();
    return toFloor(view, event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0));
  };
  const take = (event: PointerEvent, selection: Selection, grip: Grip) => {
    const thing = thingOf(plan, selection);
    if (!thing || event.button !== 0) return;
    event.stopPropagation();
    box.current?.setPointerCapture(event.pointerId);
    drag.current = { grip, selection, from: pointAt(event), thing };
    onChoose(selection);
  };
  const follow = (event: PointerEvent) => {
    if (!drag.current) return;
    const { selection, grip } = drag.current;
    onChange(withThing(plan, selection, dragged(drag.current, pointAt(event), step)), `${grip.kind} ${wordFor(plan, selection)}`);
  };
  const press = (event: KeyboardEvent, selection: Selection) => {
    const thing = thingOf(plan, selection);
    const arrow = ARROWS[event.key];
    if (!thing || event.ctrlKey || event.metaKey) return;
    const far = (event.shiftKey ? 10 : 1) * (event.altKey ? 0.1 : Math.max(1, step));
    if (arrow) onChange(withThing(plan, selection, moved(thing, arrow[0] * far, arrow[1] * far)), "keys");
    else if (event.key === "r" || event.key === "R") onChange(withThing(plan, selection, turnedBy(thing, event.key === "r" ? TURN_STEP : -TURN_STEP)), "turn keys");
    else if (event.key === "Delete" || event.key === "Backspace") onDelete();
    else return;
    event.preventDefault();
  };
  return (
    <div
      ref={box}
      className="relative h-full w-full touch-none overflow-hidden"
      onPointerDown={() => onChoose(null)}
      onPointerMove={follow}
      onPointerUp={() => (drag.current = null)}
    >
      {width > 0 && (
        <svg width={width} height={height} className="absolute inset-0" role="group" aria-label={`${plan.name}, seen from above`}>
          <FloorDrawing plan={plan} view={view} />
          <Start plan={plan} view={view} />
          {selectable(plan).map((selection) => {
            const thing = thingOf(plan, selection);
            if (!thing) return null;
            const word = wordFor(plan, selection);
            const [x, y] = middleOf(thing);
            return (
              <g
                key={selection === "start" ? "start" : `${selection.group}${selection.index}`}
                role="button"
                tabIndex={0}
                aria-label={`${word} at ${show(x, "cm", 1)}, ${show(y, "cm", 1)}`}
                aria-pressed={isSame(chosen, selection)}
                className="cursor-move [outline:none]"
                data-item={word}
                onFocus={() => onChoose(selection)}
                onKeyDown={(event) => press(event, selection)}
                onPointerDown={(event) => take(event, selection, { kind: "whole" })}
              >
                <HitArea thing={thing} view={view} lit={isSame(chosen, selection)} />
              </g>
            );
          })}
          <Grips plan={plan} chosen={chosen} view={view} box={[width, height]} onTake={(event, grip) => take(event, chosen, grip)} />
        </svg>
      )}
    </div>
  );
}

/** The thing of a drag when the pointer is at a point. */
function dragged({ grip, from, thing }: Drag, to: Point, step: number): Thing {
  switch (grip.kind) {
    case "whole":
      return movedOnGrid(thing, to[0] - from[0], to[1] - from[1], step);
    case "point":
      return withPoint(thing, grip.number, [snapped(to[0], step), snapped(to[1], step)]);
    case "radius":
      return { ...thing, radius: round(Math.max(0.5, snapped(away(thing.at ?? [0, 0], to), step))) };
    case "turn": {
      const middle = middleOf(thing);
      const before = degrees(Math.atan2(from[1] - middle[1], from[0] - middle[0]));
      const now = degrees(Math.atan2(to[1] - middle[1], to[0] - middle[0]));
      return turnedBy(thing, snapped(now - before, TURN_STEP));
    }
  }
}

/** Where the robot starts: a ring with an arrow. */
function Start({ plan, view }: { plan: Plan; view: View }) {
  const [x, y] = toScreen(view, plan.start.at);
  return (
    <g transform={`translate(${x} ${y}) rotate(${-(plan.start.heading ?? 0)})`} fill="none" stroke="var(--leaf)" strokeWidth="2">
      <circle r={Math.max(6, 8 * view.scale)} strokeDasharray="3 3" />
      <path d={`M0 0H${8 * view.scale + 12}m-6 -5 6 5 -6 5`} />
    </g>
  );
}

/** A thing's shape, unseen until it is chosen, and thick enough to be taken. */
function HitArea({ thing, view, lit }: { thing: Thing; view: View; lit: boolean }) {
  const look = { fill: "transparent", stroke: lit ? "var(--leaf)" : "transparent", width: lit ? 2.5 : 1 };
  if (thing.from && thing.to) {
    const [x1, y1] = toScreen(view, thing.from);
    const [x2, y2] = toScreen(view, thing.to);
    return (
      <>
        <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="transparent" strokeWidth="14" />
        {lit && <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--leaf)" strokeWidth="5" />}
      </>
    );
  }
  if (thing.line) {
    const points = thing.line.map((point) => toScreen(view, point).join(",")).join(" ");
    return (
      <>
        <polyline points={points} fill="none" stroke="transparent" strokeWidth="14" />
        {lit && <polyline points={points} fill="none" stroke="var(--leaf)" strokeWidth="2.5" />}
      </>
    );
  }
  if (!thing.corners && thing.radius === undefined) {
    const [x, y] = toScreen(view, thing.at ?? [0, 0]);
    return <circle cx={x} cy={y} r="12" fill="transparent" stroke={look.stroke} strokeWidth={look.width} />;
  }
  return <Outline thing={thing} view={view} {...look} />;
}

interface GripsProps {
  plan: Plan;
  chosen: Selection;
  view: View;
  box: Point;
  onTake: (event: PointerEvent, grip: Grip) => void;
}

/** The handles of the chosen thing: its points, its radius, and one to turn it. */
function Grips({ plan, chosen, view, box, onTake }: GripsProps) {
  const thing = thingOf(plan, chosen);
  if (!thing) return null;
  const points = pointsOf(thing);
  const middle = middleOf(thing);
  const [mx, my] = toScreen(view, middle);
  const turns = thing.heading !== undefined || thing.uphill !== undefined || points.length > 1 || chosen === "start";
  const reach = Math.max(0, ...points.map((point) => away(point, middle))) * view.scale + 26;
  const angle = radians(thing.heading ?? thing.uphill ?? 90);
  const kept = (at: number, room: number) => Math.min(Math.max(at, 10), room - 10);
  const [tx, ty]: Point = [kept(mx + Math.cos(angle) * reach, box[0]), kept(my - Math.sin(angle) * reach, box[1])];
  const round = { fill: "var(--sheet)", stroke: "var(--leaf)", strokeWidth: 2 };
  return (
    <g>
      {points.length > 1 &&
        points.map((point, number) => {
          const [x, y] = toScreen(view, point);
          return <rect key={number} x={x - 5} y={y - 5} width="10" height="10" className="cursor-crosshair" {...round} data-grip={`point ${number + 1}`} onPointerDown={(event) => onTake(event, { kind: "point", number })} />;
        })}
      {thing.radius !== undefined && (
        <rect x={mx + thing.radius * view.scale - 5} y={my - 5} width="10" height="10" className="cursor-ew-resize" {...round} data-grip="radius" onPointerDown={(event) => onTake(event, { kind: "radius" })} />
      )}
      {turns && (
        <>
          <line x1={mx} y1={my} x2={tx} y2={ty} stroke="var(--leaf)" strokeDasharray="2 3" pointerEvents="none" />
          <circle cx={tx} cy={ty} r="6.5" className="cursor-alias" {...round} data-grip="turn" onPointerDown={(event) => onTake(event, { kind: "turn" })} />
        </>
      )}
    </g>
  );
}
