import { useEffect, useMemo, useRef } from "react";
import uPlot from "uplot";

import type { Lane, Part, Run, Threshold } from "../api/generated";
import { colour, useTheme } from "../app/theme";
import { show } from "../model/numbers";
import { isLively, rangeOf, together, valueAt } from "../model/signals";
import { Handle, inside } from "./Handle";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useAxis } from "./store";

interface Props {
  part: Part;
  lane: Lane;
  ghost?: Lane;
  /** Where the part really stood, where that is not what was commanded. */
  actual?: Lane;
  width: number;
  height: number;
  handles: Threshold[];
  trust?: number;
  control?: Run["controls"][string];
  onHandle: (handle: Threshold, value: number, step: number) => void;
}

const stepped = uPlot.paths.stepped?.({ align: 1 });

function scaleOf(part: Part, lanes: Lane[], handles: Threshold[]): [number, number] {
  if (part.contact) return [-0.25, 1.25];
  if (part.role === "sensor") return rangeOf(lanes, handles.map((handle) => handle.value));
  return rangeOf(lanes, lanes.some(isLively) ? [0] : [0, part.high ?? 100]);
}

/** An output is labelled with its few levels, or its least and greatest; a reading gets round numbers. */
function levels(part: Part, lane: Lane): number[] | undefined {
  if (part.contact) return [0, 1];
  const found = [...new Set([0, ...lane.values.filter((value) => value !== null)])];
  if (part.role !== "output") return undefined;
  return found.length <= 3 ? found : [...new Set([Math.min(...found), 0, Math.max(...found)])];
}

function options(part: Part, lane: Lane, width: number, height: number, ghost: boolean, actual: boolean): uPlot.Options {
  const marked = levels(part, lane);
  const ink = colour(part.role === "output" ? "output" : "reading");
  const labels = part.contact
    ? (_: uPlot, splits: number[]) => splits.map((split) => (split === 0 ? "off" : split === 1 ? "on" : ""))
    : (plot: uPlot, splits: number[]) =>
        splits.map((split) => (Math.abs(plot.valToPos(split, "y") - (height - 8) / 2) > (height - 8) / 2 - 1 ? "" : show(split)));
  return {
    width,
    height,
    padding: [4, RIGHT, 4, 0],
    cursor: { show: false },
    legend: { show: false },
    scales: { x: { time: false }, y: { auto: false } },
    axes: [
      { show: false },
      {
        size: SCALE,
        gap: 4,
        font: '11px "Atkinson Hyperlegible Mono"',
        stroke: colour("soft"),
        grid: { stroke: colour("rule"), width: 1, dash: [1, 4] },
        ticks: { show: false },
        space: 22,
        splits: marked && (() => marked),
        values: labels,
      },
    ],
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
export function SignalLane({ part, lane, ghost, actual, width, height, handles, trust, control, onHandle }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const label = useRef<HTMLSpanElement>(null);
  const { from, to, end } = useAxis();
  const dark = useTheme((theme) => theme.dark);
  const lanes = useMemo(() => [...(ghost ? [ghost] : []), lane, ...(actual ? [actual] : [])], [ghost, lane, actual]);
  const scale = useMemo(() => scaleOf(part, lanes, handles), [part, lanes, handles]);
  const data = useMemo(() => together(lanes, end), [lanes, end]);
  const plotWidth = width - GUTTER;
  const marks = levels(part, lane)?.join();

  useEffect(() => {
    if (!box.current) return;
    const chart = new uPlot(options(part, lane, plotWidth, height, ghost !== undefined, actual !== undefined), undefined, box.current);
    plot.current = chart;
    return () => {
      chart.destroy();
      plot.current = null;
    };
  }, [part, plotWidth, height, ghost !== undefined, actual !== undefined, dark, marks]); // eslint-disable-line react-hooks/exhaustive-deps -- a new chart only for a new form

  useEffect(() => {
    const chart = plot.current;
    chart?.batch(() => {
      chart.setData(data, false);
      chart.setScale("x", { min: from, max: to });
      chart.setScale("y", { min: scale[0], max: scale[1] });
    });
  }, [data, scale, from, to, part, plotWidth, height, dark, marks]);

  useEffect(() => {
    const write = (at: number) => {
      const value = valueAt(lane, at);
      if (label.current) label.current.textContent = valueWords(part, value, control ? 1 : 2) + controlWord(control, at);
    };
    write(useAxis.getState().cursor);
    return useAxis.subscribe((axis) => write(axis.cursor));
  }, [lane, part, control]);

  const y = (value: number) => 4 + (1 - (value - scale[0]) / (scale[1] - scale[0])) * (height - 8);
  return (
    <div className="relative flex border-b border-rule" style={{ height }} data-lane={part.name}>
      <div className="flex shrink-0 flex-col justify-center overflow-hidden pr-2 pl-3" style={{ width: GUTTER }}>
        <span className="truncate leading-tight font-bold">{part.name}</span>
        <span ref={label} className="num truncate text-[13px] leading-tight text-soft" data-value={part.name} />
      </div>
      <div className="relative min-w-0 flex-1">
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
            perPixel={(scale[1] - scale[0]) / (height - 8)}
            onMove={onHandle}
          />
        ))}
      </div>
    </div>
  );
}

function valueWords(part: Part, value: number | null, places: number): string {
  if (part.contact) return contactWord(value);
  if (value === null) return part.role === "output" ? "not set" : "absent";
  return show(value, part.unit, places);
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
