import type { Part } from "../api/generated";
import { type Moved, OF_VALUES } from "../model/handles";
import { show } from "../model/numbers";
import { RIGHT, SCALE } from "./layout";
import { type OnMove, SLIDER, TELLS } from "./moving";
import { useDragged } from "./useDragged";

interface Props {
  handle: Moved;
  part: Part;
  top: number;
  /** How high the lane is: the label stays inside, away from the labels of the lanes above and below. */
  height: number;
  shift: number;
  perPixel: number;
  onMove: OnMove;
}

const NEAR = 12.5;

/** Where a label stands for a line at this place. */
export function inside(place: number, height: number): number {
  return Math.min(Math.max(place, NEAR), Math.max(NEAR, height - NEAR));
}

/** A number of the program, drawn on the lane it is compared with. */
export function Handle({ handle, part, top, height, shift, perPixel, onMove }: Props) {
  const { value, by, on } = useDragged({
    value: handle.value,
    axis: "y",
    perPixel,
    steps: OF_VALUES,
    onMove: (next, step, gesture) => onMove(handle.places, next, step, gesture),
  });
  const place = top + (by ?? 0);
  const lines = [...new Set(handle.places.map((item) => item.line))];
  return (
    <>
      <div className="pointer-events-none absolute border-t border-dashed border-leaf" style={{ top: place, left: SCALE, right: RIGHT }} />
      <div
        role="slider"
        tabIndex={0}
        aria-label={`${part.name} compared with ${show(value, part.unit)}, ${lines.length > 1 ? `lines ${lines.join(" and ")}` : `line ${handle.line}`}`}
        aria-valuenow={Math.round(value * 100) / 100}
        aria-valuetext={show(value, part.unit)}
        aria-orientation="vertical"
        data-handle={part.name}
        title={TELLS}
        className={`${SLIDER} z-10 h-[18px] cursor-ns-resize pr-1.5 pl-2`}
        style={{ top: inside(place, height) - 9, right: RIGHT / 2 + shift * 72 }}
        {...on}
      >
        {show(value, part.unit, 1)}
      </div>
    </>
  );
}
