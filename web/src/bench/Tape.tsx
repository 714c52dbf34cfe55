import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import { away, degrees, type Point } from "../floors/geometry";
import { toFloor, toScreen, type View } from "../floors/view";
import { show } from "../model/numbers";

interface Props {
  tape: [Point, Point];
  view: View;
  onMove: (tape: [Point, Point]) => void;
}

/** A tape measure between two points: each end can be dragged, or moved with the arrow keys. */
export function Tape({ tape, view, onMove }: Props) {
  const [from, to] = tape;
  const [x1, y1] = toScreen(view, from);
  const [x2, y2] = toScreen(view, to);
  const length = show(away(from, to), "cm", 1);
  const angle = show(degrees(Math.atan2(to[1] - from[1], to[0] - from[0])), "deg", 0);
  return (
    <g>
      <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--ochre)" strokeWidth="2" strokeDasharray="10 2" />
      <text
        x={(x1 + x2) / 2 + 8}
        y={(y1 + y2) / 2 - 8}
        className="num"
        fontSize="13"
        fontWeight="600"
        fill="var(--ink)"
        stroke="var(--sheet)"
        strokeWidth="4"
        style={{ paintOrder: "stroke" }}
        data-tape=""
      >
        {length}, {angle}
      </text>
      <End name="Start of the tape" at={from} view={view} onMove={(next) => onMove([next, to])} />
      <End name="End of the tape" at={to} view={view} onMove={(next) => onMove([from, next])} />
    </g>
  );
}

const STEPS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

function End({ name, at, view, onMove }: { name: string; at: Point; view: View; onMove: (at: Point) => void }) {
  const circle = useRef<SVGCircleElement>(null);
  const [x, y] = toScreen(view, at);
  const press = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const far = event.shiftKey ? 10 : 1;
    onMove([at[0] + step[0] * far, at[1] + step[1] * far]);
  };
  const drag = (event: PointerEvent) => {
    if (!circle.current?.hasPointerCapture(event.pointerId)) return;
    event.stopPropagation();
    const edge = circle.current.ownerSVGElement?.getBoundingClientRect();
    onMove(toFloor(view, event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0)));
  };
  return (
    <circle
      ref={circle}
      cx={x}
      cy={y}
      r="7"
      fill="var(--sheet)"
      stroke="var(--ochre)"
      strokeWidth="2.5"
      className="pointer-events-auto cursor-move touch-none"
      tabIndex={0}
      role="button"
      aria-label={`${name}, at ${show(at[0], "cm", 1)}, ${show(at[1], "cm", 1)}. Arrow keys move it.`}
      data-handle="tape"
      onKeyDown={press}
      onPointerDown={(event) => {
        event.stopPropagation();
        circle.current?.setPointerCapture(event.pointerId);
      }}
      onPointerMove={drag}
    />
  );
}
