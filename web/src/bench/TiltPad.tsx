import { type PointerEvent, useRef } from "react";

import type { Doing } from "../api/generated";
import { show } from "../model/numbers";

interface Props {
  name: string;
  /** How far it goes, and in which unit; what x and y are for a hand; whether it goes back to the middle when it is let go. */
  most: number;
  unit: string;
  says: [string, string];
  springs?: boolean;
  held: (name: string) => number | string | undefined;
  does: (name: string, value: Doing["value"]) => void;
}

/** A hand that tilts the rig or leans a stick: up is ahead (x), right is to the right (y); the ring is the middle. */
export function TiltPad({ name, most, unit, says, springs = false, held, does }: Props) {
  const pad = useRef<HTMLDivElement>(null);
  const number = (axis: string) => {
    const value = held(`${name}.${axis}`);
    return typeof value === "number" ? value : 0;
  };
  const [x, y] = [number("x"), number("y")];
  const set = (nextX: number, nextY: number) => {
    const inside = (value: number) => Math.round(Math.min(most, Math.max(-most, value)));
    does(`${name}.x`, inside(nextX));
    does(`${name}.y`, inside(nextY));
  };
  const take = (event: PointerEvent) => {
    const edge = pad.current?.getBoundingClientRect();
    if (!edge || !pad.current?.hasPointerCapture(event.pointerId)) return;
    const across = ((event.clientX - edge.left) / edge.width) * 2 - 1;
    const up = 1 - ((event.clientY - edge.top) / edge.height) * 2;
    set(up * most, across * most);
  };
  return (
    <div className="flex items-center gap-3">
      <div
        ref={pad}
        className="relative size-[76px] shrink-0 touch-none rounded-full border border-rule bg-sheet"
        aria-hidden="true"
        data-handle="tilt"
        onPointerDown={(event) => {
          pad.current?.setPointerCapture(event.pointerId);
          take(event);
        }}
        onPointerMove={take}
        onPointerUp={() => springs && set(0, 0)}
      >
        <span className="absolute top-1/2 left-1/2 size-4 -translate-1/2 rounded-full border border-dashed border-soft" />
        <span
          className="absolute size-3 -translate-1/2 rounded-full bg-leaf"
          style={{ left: `${50 + (y / most) * 46}%`, top: `${50 - (x / most) * 46}%` }}
        />
      </div>
      <div className="min-w-0 flex-1">
        <Axis name={`${name}.x`} most={most} unit={unit} says={says[0]} value={x} onSet={(value) => set(value, y)} />
        <Axis name={`${name}.y`} most={most} unit={unit} says={says[1]} value={y} onSet={(value) => set(x, value)} />
      </div>
    </div>
  );
}

/** One axis of the tilt: a slider of its own, as the pad has two of them and only a pointer can use it. */
function Axis({ name, most, unit, says, value, onSet }: { name: string; most: number; unit: string; says: string; value: number; onSet: (value: number) => void }) {
  return (
    <label className="block leading-tight">
      <span className="num flex justify-between gap-1">
        <span>{name.split(".").at(-1)}</span>
        <span>{show(value, unit, 0)}</span>
      </span>
      <input
        type="range"
        className="block w-full accent-[var(--leaf)]"
        min={-most}
        max={most}
        step={1}
        value={value}
        data-handle={name}
        aria-label={`${name}, in ${unit}: ${says}`}
        onChange={(event) => onSet(Number(event.target.value))}
      />
    </label>
  );
}
