import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";

import type { Doing, Ride } from "../api/generated";
import { ThingDrawing } from "../floors/FloorDrawing";
import { type Point, pointsOf } from "../floors/geometry";
import { type Plan, round, type Thing } from "../floors/plan";
import { toFloor, toScreen, type View } from "../floors/view";
import { heldAt } from "../model/hands";
import { show } from "../model/numbers";
import { thingAt } from "./ride";
import { useAxis } from "./store";

interface Props {
  plan: Plan;
  view: View;
  ride: Ride | null;
  doings: Doing[];
  onDo?: (...doings: Doing[]) => void;
}

const HAND: Thing = { name: "hand", radius: 4 };

/** Things that the robot or a hand can move, and a hand that is held on the floor, where they are at the cursor. */
export function MovedThings(props: Props) {
  const { plan, doings } = props;
  return (
    <>
      {plan.obstacles
        .filter((thing) => thing.movable && thing.name)
        .map((thing) => (
          <Movable key={thing.name} name={thing.name ?? ""} thing={thing} home={gripOf(thing)} {...props} />
        ))}
      {doings.some((doing) => doing.name === "hand.x") && <Movable name="hand" thing={{ ...HAND, at: [0, 0] }} home={null} {...props} />}
    </>
  );
}

/** The middle of a thing's points: what a hand takes hold of. */
function gripOf(thing: Thing): Point {
  const points = pointsOf(thing);
  return [points.reduce((sum, [x]) => sum + x, 0) / points.length, points.reduce((sum, [, y]) => sum + y, 0) / points.length];
}

const STEPS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

interface MovableProps extends Props {
  name: string;
  thing: Thing;
  /** Where it stands before anything moved it; null for what is not there at first. */
  home: Point | null;
}

function Movable({ name, thing, home, view, ride, doings, onDo }: MovableProps) {
  const group = useRef<SVGGElement>(null);
  const [grabbed, setGrabbed] = useState<Point | null>(null);
  const base = home ?? [0, 0];

  useEffect(() => {
    const place = () => {
      const element = group.current;
      if (!element) return;
      const { cursor } = useAxis.getState();
      const held = [heldAt(doings, `${name}.x`, cursor), heldAt(doings, `${name}.y`, cursor)];
      const byHand: Point | null = typeof held[0] === "number" && typeof held[1] === "number" ? [held[0], held[1]] : null;
      // What a hand does at this very instant shows at once; the run follows.
      const justNow = doings.some((doing) => doing.name === `${name}.x` && Math.abs(doing.at - cursor) < 1e-9);
      const at = grabbed ?? (justNow ? byHand : null) ?? (ride ? (thingAt(ride, name, cursor) ?? (home === null ? byHand : home)) : (byHand ?? home));
      element.style.display = at ? "" : "none";
      if (!at) return;
      element.setAttribute("transform", `translate(${(at[0] - base[0]) * view.scale} ${-(at[1] - base[1]) * view.scale})`);
      element.dataset.at = `${round(at[0])},${round(at[1])}`;
      element.setAttribute("aria-label", `${name} at ${show(at[0], "cm", 0)}, ${show(at[1], "cm", 0)}. Arrow keys move it.`);
    };
    place();
    return useAxis.subscribe(place);
  });

  const now = (): Point => {
    const [x, y] = (group.current?.dataset.at ?? "0,0").split(",").map(Number);
    return [x ?? 0, y ?? 0];
  };
  const put = ([x, y]: Point) => {
    const { cursor } = useAxis.getState();
    onDo?.({ at: cursor, name: `${name}.x`, value: round(x) }, { at: cursor, name: `${name}.y`, value: round(y) });
  };
  const press = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step || !onDo) return;
    event.preventDefault();
    event.stopPropagation();
    const far = event.shiftKey ? 10 : 2;
    const [x, y] = now();
    put([x + step[0] * far, y + step[1] * far]);
  };
  const drag = (event: PointerEvent) => {
    if (!group.current?.hasPointerCapture(event.pointerId)) return;
    const edge = group.current.ownerSVGElement?.getBoundingClientRect();
    const at = toFloor(view, event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0));
    setGrabbed(at);
    put(at);
  };
  return (
    <g
      ref={group}
      className={onDo ? "pointer-events-auto cursor-grab touch-none" : ""}
      tabIndex={onDo ? 0 : undefined}
      role={onDo ? "button" : "img"}
      aria-label={name}
      data-thing={name}
      data-handle="thing"
      onKeyDown={press}
      onPointerDown={(event) => {
        if (!onDo) return;
        event.stopPropagation();
        group.current?.setPointerCapture(event.pointerId);
        setGrabbed(now());
      }}
      onPointerMove={drag}
      onPointerUp={() => setGrabbed(null)}
    >
      {name === "hand" ? <Hand at={toScreen(view, [0, 0])} /> : <ThingDrawing group="obstacles" thing={thing} view={view} />}
    </g>
  );
}

/** A hand seen from above: a palm with a short arm. */
function Hand({ at: [x, y] }: { at: Point }) {
  return (
    <g transform={`translate(${x} ${y})`} fill="var(--ochre-wash)" stroke="var(--ochre)" strokeWidth="1.8">
      <path d="M-5 4 L-9 26 H9 L5 4" />
      <circle r="8.5" />
    </g>
  );
}
