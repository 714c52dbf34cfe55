import { useMemo, useRef } from "react";

import type { Lane, Load, Rig, Run } from "../api/generated";
import { acrossAt, LiftScene, type LiftView, RAIL, Tray, TRAY, upAt } from "../floors/LiftScene";
import { show } from "../model/numbers";
import { indexAt, valueAt } from "../model/signals";
import { useCursor } from "./useCursor";
import { useSize } from "./useSize";

const NEAR = 12;

/** What a hoist does, from the side: across how far it is turned aside, upwards how far it has lifted. */
export function LiftMap({ rig, run, load }: { rig: Rig; run: Run; load: Load }) {
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const cursor = useCursor();
  const [lift, aside, grip] = [load.lifted_by, load.aside_by, load.gripped_by].map((name) => turned(run, name));
  const view = useMemo(() => viewOf(rig, run, load, width, height), [rig, run, load, width, height]);
  const trail = useMemo(() => (width ? wayOf(view, run, load) : []), [view, run, load, width]);
  const at = (lane: Lane | null | undefined) => (lane && valueAt(lane, cursor)) ?? 0;
  const held = at(load.held) === 1;
  const hook = { x: acrossAt(view, aside ? at(aside) : view.across[0]), y: upAt(view, at(lift)) };
  const shut = Math.min(1.15, Math.max(0, at(grip) / (load.grips_at || 1)));
  const jaw = TRAY / 2 + 3 + (1 - shut) * 16;
  const fell = run.events.filter((event) => event.kind === "dropped" && event.at <= cursor + 1e-9).at(-1);
  const place = load.places.find((rest) => Math.abs(rest.up - at(load.up)) < 0.5 && (rest.aside === null || Math.abs(rest.aside - at(load.aside)) < NEAR));
  const says = held ? "is held" : `lies on the ${place?.name || "worktop"}`;
  return (
    <div ref={box} className="relative min-h-0 min-w-0 flex-1" data-load={load.name} data-lies={says}>
      {width > 0 && (
        <LiftScene
          view={view}
          places={load.places}
          says={[load.aside_by, load.lifted_by]}
          label={`${load.name} ${says}; ${load.lifted_by} at ${show(at(lift), "deg", 0)}${aside ? `, ${load.aside_by} at ${show(at(aside), "deg", 0)}` : ""}`}
        >
          <Trail points={trail} cursor={cursor} />
          <line x1={hook.x} y1={RAIL} x2={hook.x} y2={hook.y - 16} stroke="var(--ink)" strokeWidth="1.6" />
          <path d={`M${hook.x - jaw},${hook.y + 4} v-20 h${2 * jaw} v20`} fill="none" stroke={held ? "var(--leaf)" : "var(--ink)"} strokeWidth="3" strokeLinejoin="round" />
          <Tray x={acrossAt(view, load.aside ? at(load.aside) : view.across[0])} y={upAt(view, at(load.up))} name={load.name} held={held} />
          <text x={width - 10} y={RAIL + 20} textAnchor="end" fontSize="13" fontWeight="700" fill={fell ? "var(--clay)" : "var(--ink)"}>
            {fell ? `! ${load.name} fell at ${show(fell.at, "s", 2)}` : `${load.name} ${says}`}
          </text>
        </LiftScene>
      )}
    </div>
  );
}

const turned = (run: Run, name: string) => run.turned.find((lane) => lane.part === name);

function viewOf(rig: Rig, run: Run, load: Load, width: number, height: number): LiftView {
  const stops = (name: string) => rig.parts.find((part) => part.name === name)?.stops ?? null;
  return {
    width,
    height,
    across: spanOf(stops(load.aside_by), load.places.map((place) => place.aside ?? 0), turned(run, load.aside_by)),
    upwards: spanOf(stops(load.lifted_by), load.places.map((place) => place.up), turned(run, load.lifted_by)),
  };
}

/** What an axis shows: from end stop to end stop, else what is ever reached. */
function spanOf(stops: number[] | null, also: number[], lane: Lane | undefined): [number, number] {
  const reached = (lane?.values ?? []).filter((value) => value !== null);
  const all = [...(stops ?? reached), ...also];
  return [Math.min(...all, 0), Math.max(...all, 1)];
}

interface Stop {
  at: number;
  x: number;
  y: number;
}

function wayOf(view: LiftView, run: Run, load: Load): Stop[] {
  const [lift, aside] = [turned(run, load.lifted_by), turned(run, load.aside_by)];
  if (!lift) return [];
  const times = [...new Set([...lift.times, ...(aside?.times ?? [])])].sort((a, b) => a - b);
  return times.map((at) => ({ at, x: acrossAt(view, (aside && valueAt(aside, at)) ?? 0), y: upAt(view, valueAt(lift, at) ?? 0) }));
}

/** The way of the grip: what is done is solid, what comes is dashed. */
function Trail({ points, cursor }: { points: Stop[]; cursor: number }) {
  const now = indexAt(points.map((point) => point.at), cursor) + 1;
  const line = (part: Stop[]) => part.map((point) => `${point.x.toFixed(1)},${point.y.toFixed(1)}`).join(" ");
  return (
    <>
      <polyline points={line(points.slice(Math.max(0, now - 1)))} fill="none" stroke="var(--ghost)" strokeWidth="1.2" strokeDasharray="3 4" />
      <polyline points={line(points.slice(0, now))} fill="none" stroke="var(--leaf)" strokeWidth="1.8" opacity="0.8" />
    </>
  );
}
