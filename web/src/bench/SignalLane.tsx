import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef } from "react";
import uPlot from "uplot";

import type { Bar, Lane, Part, Run, Setting } from "../api/generated";
import { colour, useTheme } from "../app/theme";
import type { Moved } from "../model/handles";
import { niceStep, show, ticksBetween } from "../model/numbers";
import { isLively, rangeOf, together, valueAt } from "../model/signals";
import { Handle, inside } from "./Handle";
import { LaneLabel } from "./LaneLabel";
import type { LaneActions } from "./LaneMenu";
import { apart, GUTTER, RIGHT, SCALE, share } from "./layout";
import type { OnMove } from "./moving";
import { isShort, OutputHandle } from "./OutputHandle";
import { useAxis, useSpan } from "./store";

interface Props {
  part: Part;
  lane: Lane;
  ghost?: Lane;
  /** Where the part really stood, where that is not what was commanded. */
  actual?: Lane;
  width: number;
  height: number;
  handles?: Moved[];
  /** What steps set it to, and the bars that show when they went on. */
  settings?: Setting[];
  bars?: Bar[];
  trust?: number;
  control?: Run["controls"][string];
  first?: { words: string; holds: boolean };
  actions?: LaneActions;
  onMove?: OnMove;
}

const NO_HANDLES: Moved[] = [];
const NO_SETTINGS: Setting[] = [];
const NO_BARS: Bar[] = [];
const NOTHING = () => undefined;
const MOST_GRIPS = 16;
const LABEL = 12; // pixels

const stepped = uPlot.paths.stepped?.({ align: 1 });

function scaleOf(part: Part, lanes: Lane[], handles: Moved[]): [number, number] {
  if (part.contact) return [-0.25, 1.25];
  if (part.role === "sensor") return rangeOf(lanes, handles.map((handle) => handle.value));
  return rangeOf(lanes, lanes.some(isLively) ? [0] : [0, part.high ?? 100]);
}

/** Where a lane has its labels: an output at its few levels, or its least and greatest; a reading at round numbers. */
function ticksOf(part: Part, lane: Lane, low: number, high: number, height: number): number[] {
  if (part.contact) return [0, 1];
  if (part.role !== "output") return ticksBetween(low, high, niceStep(high - low, Math.max(2, (height - 8) / 22)));
  const found = [...new Set([0, ...lane.values.filter((value) => value !== null)])];
  const marked = found.length <= 3 ? found : [...new Set([Math.min(...found), 0, Math.max(...found)])];
  const apart = ((high - low) / (height - 8)) * LABEL; // labels that would stand on each other say nothing
  return marked.filter((value, index) => value >= low && value <= high && !marked.slice(0, index).some((other) => Math.abs(other - value) < apart));
}

function options(part: Part, width: number, height: number, ghost: boolean, actual: boolean): uPlot.Options {
  const ink = colour(part.role === "output" ? "output" : "reading");
  return {
    width,
    height,
    padding: [4, RIGHT, 4, SCALE],
    cursor: { show: false },
    legend: { show: false },
    scales: { x: { time: false }, y: { auto: false } },
    // labels and their lines are elements of the page: to write on a canvas takes longer than to draw the signal
    axes: [{ show: false }, { show: false }],
    series: [
      {},
      ...(ghost ? [{ stroke: colour("ghost"), width: 4, paths: stepped, points: { show: false } }] : []),
      {
        stroke: ink,
        width: part.role === "output" ? 2 : 1.4,
        fill: part.role === "output" ? `color-mix(in srgb, ${ink} 16%, transparent)` : undefined,
        fillTo: 0,
        paths: stepped,
        points: { show: false },
      },
      ...(actual ? [{ stroke: colour("ink"), width: 1.2, points: { show: false } }] : []),
    ],
  };
}

/** One signal on the time axis, with the values that the program compares it with as handles. */
export const SignalLane = memo(function SignalLane({ part, lane, ghost, actual, width, height, handles = NO_HANDLES, settings = NO_SETTINGS, bars = NO_BARS, trust, control, first, actions, onMove = NOTHING }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const label = useRef<HTMLSpanElement>(null);
  const raw = useRef<HTMLSpanElement>(null);
  const { from, to, end } = useSpan();
  const dark = useTheme((theme) => theme.dark);
  const lanes = useMemo(() => [...(ghost ? [ghost] : []), lane, ...(actual ? [actual] : [])], [ghost, lane, actual]);
  const [low, high] = useMemo(() => scaleOf(part, lanes, handles), [part, lanes, handles]);
  const data = useMemo(() => together(lanes, end), [lanes, end]);
  const plotWidth = width - GUTTER;
  const ticks = useMemo(() => ticksOf(part, lane, low, high, height), [part, lane, low, high, height]);

  // drawn in the same frame as the rest of the answer
  useLayoutEffect(() => {
    if (!box.current) return;
    const chart = new uPlot(options(part, plotWidth, height, ghost !== undefined, actual !== undefined), undefined, box.current);
    plot.current = chart;
    return () => {
      chart.destroy();
      plot.current = null;
    };
  }, [part, plotWidth, height, ghost !== undefined, actual !== undefined, dark]); // oxlint-disable-line react-hooks/exhaustive-deps -- a new chart only for a new form

  useLayoutEffect(() => {
    const chart = plot.current;
    chart?.batch(() => {
      chart.setData(data, false);
      chart.setScale("x", { min: from, max: to });
      chart.setScale("y", { min: low, max: high });
    });
  }, [data, low, high, from, to, part, plotWidth, height, dark]);

  useEffect(() => {
    const write = (at: number) => {
      const value = valueAt(lane, at);
      if (label.current) label.current.textContent = valueWords(part, value, control ? 1 : 2) + controlWord(control, at);
      if (raw.current) raw.current.textContent = rawWords(part, value);
    };
    write(useAxis.getState().cursor);
    return useAxis.subscribe((axis) => write(axis.cursor));
  }, [lane, part, control]);

  const axis = plotWidth - SCALE - RIGHT;
  const y = useCallback((value: number) => 4 + (1 - (value - low) / (high - low)) * (height - 8), [low, high, height]);
  const grips = useMemo(
    () =>
      settings
        .flatMap((setting) => {
        const span = spanOf(setting, lane, bars, from, to);
        if (!span) return [];
        const [left, right] = [share(Math.max(span[0], from), from, to) * axis, share(Math.min(span[1], to), from, to) * axis];
        // of a ramp each number stands at its own end
        const places = [(left + right) / 2, left + 12, right - 12];
        const off = (place: number) => Math.abs((valueAt(lane, from + (place / axis) * (to - from)) ?? 0) - setting.value);
        const place = places.reduce((best, next) => (off(next) < off(best) - 1e-6 ? next : best));
          return [{ setting, left: SCALE + place, room: right - left }];
        })
        .filter(apart((item) => [item.left, inside(y(item.setting.value), height), isShort(item.room) ? 24 : 52]))
        .slice(0, MOST_GRIPS),
    [settings, lane, bars, from, to, axis, y, height],
  );

  return (
    <div className="relative flex border-b border-rule" style={{ height }} data-lane={part.name}>
      <LaneLabel part={part} value={label} raw={raw} first={first} height={height} actions={actions} />
      <div className="relative min-w-0 flex-1">
        <Scale part={part} ticks={ticks} y={y} />
        <div ref={box} aria-hidden="true" />
        {trust !== undefined && trust < to && (
          <div
            className="hatched pointer-events-none absolute inset-y-0"
            style={{ left: SCALE + Math.max(0, share(trust, from, to)) * (plotWidth - SCALE - RIGHT), right: RIGHT }}
            title="From here on the program drives differently from the recording, so this reading is not to be trusted."
          />
        )}
        {handles.map((handle, index) => (
          <Handle
            key={`${handle.line}:${handle.column}`}
            handle={handle}
            part={part}
            top={y(handle.value)}
            height={height}
            shift={handles.slice(0, index).filter((other) => Math.abs(inside(y(other.value), height) - inside(y(handle.value), height)) < 25).length}
            perPixel={(high - low) / (height - 8)}
            onMove={onMove}
          />
        ))}
        {grips.map(({ setting, left, room }) => (
          <OutputHandle
            key={`${setting.step}:${setting.line}:${setting.column}`}
            setting={setting}
            part={part}
            left={left}
            room={room}
            top={y(setting.value)}
            height={height}
            perPixel={(high - low) / (height - 8)}
            onMove={onMove}
          />
        ))}
      </div>
    </div>
  );
});

/** A lane's labels with their lines. */
function Scale({ part, ticks, y }: { part: Part; ticks: number[]; y: (value: number) => number }) {
  const word = (tick: number) => (part.contact ? (tick ? "on" : "off") : show(tick));
  return (
    <div className="pointer-events-none absolute inset-0" aria-hidden="true">
      {ticks.map((tick) => (
        <div key={tick} className="absolute border-t border-dotted border-rule" style={{ top: y(tick), left: SCALE, right: RIGHT }}>
          <span className="num absolute -top-[7px] right-full mr-1 text-[11px] leading-[14px] text-soft">{word(tick)}</span>
        </div>
      ))}
    </div>
  );
}

/** The first stretch, of those that are seen, in which a step set an output: while it waited, or else while the output was so. */
function spanOf(setting: Setting, lane: Lane, bars: Bar[], from: number, to: number): [number, number] | null {
  const bar = bars.find((item) => item.line === setting.step && item.state === "waiting" && item.to > from && item.from < to);
  if (bar) return [bar.from, bar.to];
  if (bars.some((item) => item.line <= setting.step && setting.step <= item.last_line)) return null;
  const index = lane.times.findIndex((time, place) => lane.values[place] === setting.value && time < to && (lane.times[place + 1] ?? Infinity) > from);
  return index < 0 || setting.value === 0 ? null : [lane.times[index] ?? 0, lane.times[index + 1] ?? to];
}

function valueWords(part: Part, value: number | null, places: number): string {
  if (part.contact) return contactWord(value);
  if (value === null) return part.role === "output" ? "not set" : "absent";
  return show(value, part.unit, places);
}

/** The converter's own number of a reading, where the rig says which it has. */
function rawWords(part: Part, value: number | null): string {
  if (!part.raw || value === null) return "raw: absent";
  const [low, high] = [part.low ?? 0, part.high ?? 100];
  const [first, last] = part.raw;
  return `raw ${Math.round(first + ((value - low) / (high - low)) * (last - first))}`;
}

const WORDS = { power: "", speed: ", kept", brake: ", braked", coast: ", rolls" };

/** How a motor is controlled at a time, where it is not simply by power. */
function controlWord(control: Run["controls"][string] | undefined, at: number): string {
  const now = control?.findLast(([from]) => from <= at + 1e-9)?.[1];
  return now ? WORDS[now] : "";
}

function contactWord(value: number | null): string {
  return value === null ? "absent" : value ? "pressed" : "released";
}
