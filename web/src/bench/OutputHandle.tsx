import type { Part, Setting } from "../api/generated";
import { OF_VALUES } from "../model/handles";
import { show } from "../model/numbers";
import { inside } from "./Handle";
import { type OnMove, SLIDER, TELLS } from "./moving";
import { useDragged } from "./useDragged";

interface Props {
  setting: Setting;
  part: Part;
  /** Where on the lane it stands, in pixels: the middle of what it sets, as far as that is seen. */
  left: number;
  room: number;
  top: number;
  height: number;
  perPixel: number;
  onMove: OnMove;
}

/** Whether there is no room for the number beside its line: it is shown when it is asked for. */
export function isShort(room: number): boolean {
  return room < 40;
}

/** What a step sets an output to, drawn on the output's lane where the step goes on. */
export function OutputHandle({ setting, part, left, room, top, height, perPixel, onMove }: Props) {
  const { value, by, on } = useDragged({
    value: setting.value,
    axis: "y",
    perPixel,
    steps: OF_VALUES,
    onMove: (next, step, gesture) => onMove([setting], next, step, gesture),
  });
  const short = isShort(room) && by === null;
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`${part.name} at ${show(value, part.unit)}, line ${setting.step}`}
      aria-valuenow={Math.round(value * 100) / 100}
      aria-valuetext={show(value, part.unit)}
      aria-orientation="vertical"
      data-sets={part.name}
      data-line={setting.step}
      title={`${show(value, part.unit, 1)}, line ${setting.step}. ${TELLS}`}
      className={`${SLIDER} group z-10 -translate-x-1/2 cursor-ns-resize justify-center px-1.5 ${short ? "h-[9px] min-w-[14px] hover:h-[17px] focus:h-[17px]" : "h-[17px]"}`}
      style={{ left, top: inside(top + (by ?? 0), height) - (short ? 4.5 : 8.5) }}
      {...on}
    >
      <span className={short ? "hidden group-hover:inline group-focus:inline" : ""}>{show(value, part.unit, 1)}</span>
    </div>
  );
}
