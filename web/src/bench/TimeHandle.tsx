import type { Bar, Setting } from "../api/generated";
import { OF_HELD, OF_TIMES, OF_VALUES } from "../model/handles";
import { show } from "../model/numbers";
import { share } from "./layout";
import { type OnMove, TELLS } from "./moving";
import { useSpan } from "./store";
import { useDragged } from "./useDragged";

interface Props {
  setting: Setting;
  bar: Bar;
  /** How many pixels the time axis is wide. */
  width: number;
  onMove: OnMove;
}

const WHAT: Record<string, string> = { time: "lasts", way: "goes on for", held: "must hold for", patience: "is patient for" };
const JUST = 1e-6;

/** Whether a bar shows how long a number of its step is: a wait that was abandoned does not. */
export function isShown(setting: Setting, bar: Bar): boolean {
  const lasted = bar.to - bar.from;
  if (setting.what === "time") return Math.abs(lasted - setting.value) < 1e-5;
  if (setting.what === "held") return lasted >= setting.value - JUST;
  return setting.what === "way" ? lasted > JUST : setting.what === "patience";
}

/** Where the grip of a number stands on the time axis, in s. */
export function placeOf(setting: Setting, bar: Bar): number {
  if (setting.what === "held") return bar.to - setting.value;
  return setting.what === "patience" ? bar.from + setting.value : bar.to;
}

/** Whether its grip hangs below the bar, at the end of a tail. */
export function isBelow(setting: Setting): boolean {
  return setting.what === "held" || setting.what === "patience";
}

/** How long a step lasts, must hold or is patient: a grip on its bar. */
export function TimeHandle({ setting, bar, width, onMove }: Props) {
  const { from, to } = useSpan();
  const second = width / (to - from);
  const isWay = setting.what === "way";
  const lasted = bar.to - bar.from;
  const { value, by, on } = useDragged({
    value: setting.value,
    axis: "x",
    perPixel: isWay ? setting.value / (lasted * second) : (setting.what === "held" ? -1 : 1) / second,
    steps: isWay ? OF_VALUES : setting.what === "held" ? OF_HELD : OF_TIMES,
    least: 0,
    onMove: (next, step, gesture) => onMove([setting], next, step, gesture),
  });
  const unit = isWay ? setting.unit : "s";
  const x = (at: number) => share(at, from, to) * width;
  const at = x(placeOf(setting, bar)) + (by ?? 0);
  const below = isBelow(setting);
  const tail = [Math.min(at, x(bar.to)), Math.max(at, x(bar.to))] as const;
  const chip = at > width - 60 ? "right-full mr-1" : "left-full ml-1";
  if (at < -6 || at > width + 6) return below && tail[0] < width && tail[1] > 0 ? <Tail from={tail[0]} to={tail[1]} /> : null;
  return (
    <>
      {below && <Tail from={tail[0]} to={tail[1]} />}
      <div
        role="slider"
        tabIndex={0}
        aria-label={`Line ${setting.step} ${WHAT[setting.what]} ${show(value, unit, 3)}`}
        aria-valuenow={Math.round(value * 1000) / 1000}
        aria-valuetext={show(value, unit, 3)}
        aria-orientation="horizontal"
        data-sets={setting.what}
        data-line={setting.step}
        title={`Line ${setting.step} ${WHAT[setting.what]} ${show(value, unit, 3)}. ${TELLS}`}
        className={`group absolute z-10 flex h-[24px] w-[24px] -translate-x-1/2 cursor-ew-resize touch-none justify-center ${below ? "top-[28px]" : "top-[3px]"}`}
        style={{ left: at }}
        {...on}
      >
        <span className={`block w-[5px] rounded-sm border border-sheet bg-leaf group-hover:w-[7px] group-focus:w-[7px] ${below ? "h-3" : "h-[24px]"}`} />
        <span className={`num pointer-events-none absolute top-0 ${chip} hidden rounded border border-leaf bg-sheet px-1 text-[11px] leading-[16px] whitespace-nowrap text-leaf group-hover:block group-focus:block ${by !== null ? "!block" : ""}`}>
          {show(value, unit, 3)}
        </span>
      </div>
    </>
  );
}

/** How long a wait had to hold, or how much longer it would have been patient. */
function Tail({ from, to }: { from: number; to: number }) {
  return <div className="pointer-events-none absolute top-[33px] border-t-2 border-dotted border-leaf" style={{ left: from, width: to - from }} />;
}
