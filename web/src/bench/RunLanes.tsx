import { memo, useMemo } from "react";

import type { BenchAnswer, Lane, Part, Rig, WhyAnswer } from "../api/generated";
import type { World } from "../api/world";
import type { Moved } from "../model/handles";
import { comparison, holds } from "../model/holds";
import { show } from "../model/numbers";
import { CheckLanes } from "./CheckLanes";
import { InputsLane } from "./InputsLane";
import type { LaneActions } from "./LaneMenu";
import { Lanes } from "./Lanes";
import type { OnMove } from "./moving";
import { Overview } from "./Overview";
import { PartnerLanes } from "./PartnerLanes";
import { ProgramLanes } from "./ProgramLane";
import { SignalLane } from "./SignalLane";
import { useSpan } from "./store";
import { TextLane } from "./TextLane";
import { TimeAxis } from "./TimeAxis";
import type { Arrangement } from "./useArrangement";
import type { VisibleLanes } from "./visible";
import { WhyTrace } from "./WhyTrace";

interface Props {
  rig: Rig;
  world: World;
  /** What is drawn: of a text that has an error, what the last text without one did. */
  answer: BenchAnswer | undefined;
  stale: boolean;
  lanes: VisibleLanes;
  /** The numbers that can be moved on readings' lanes. */
  handles: Moved[];
  growth: number;
  width: number;
  lines: string[];
  lit: number | null;
  chosen: string | null;
  /** What stands in the place of the program's lanes while there is no run. */
  instead: string;
  why: WhyAnswer | null;
  arrangement: Arrangement;
  actions: LaneActions;
  onMove: OnMove;
  onLine: (line: number) => void;
  onHover: (line: number | null) => void;
  onCheck: (title: string | null) => void;
}

const NONE: never[] = [];
const NOTHING = () => undefined;

/** Everything that happens in a run, on one time axis: hands, readings, program, outputs, checks. */
export const RunLanes = memo(function RunLanes({ rig, world, answer, stale, lanes, handles, growth, width, lines, lit, chosen, instead, why, arrangement, actions, onMove, onLine, onHover, onCheck }: Props) {
  const run = answer?.run ?? null;
  const settings = answer?.settings ?? NONE;
  const on = useMemo(() => Map.groupBy(handles, (handle) => handle.part), [handles]);
  const sets = useMemo(() => Map.groupBy(settings.filter((setting) => setting.what === "output"), (setting) => setting.part), [settings]);
  const move = stale ? NOTHING : onMove;
  const tall = lanes.readings.length > 4 ? 62 : 78;
  const high = (part: Part, plain: number) => arrangement.heights[part.name] ?? plain;
  const { end } = useSpan();
  const marks = useMemo(
    () => [
      ...(answer?.differences ?? []).map((item) => ({ at: item.from, to: item.to, tone: "var(--ghost)" })),
      ...(answer?.checks ?? []).flatMap((check) => (check.at === null || check.verdict === "pass" ? [] : [{ at: check.at, tone: "var(--clay)" }])),
    ],
    [answer],
  );
  // the same objects for as long as they say the same: a lane that stays as it is need not be drawn anew
  const firsts = useMemo(() => {
    const text = lines.join("\n");
    return new Map(lanes.readings.map(({ part, lane }) => [part.name, firstOf(text, part, lane, on.get(part.name))]));
  }, [lines, lanes, on]);
  return (
    <div className="relative">
      {stale && (
        <p className="absolute top-0 right-2 z-40 rounded-b border border-t-0 border-clay bg-clay-wash px-2 py-0.5 text-[13px]" data-stale="">
          The text has errors: this is the last run without them.
        </p>
      )}
      <div className={stale ? "stale" : ""} data-ran={stale ? "stale" : handles.map((handle) => handle.value).join(" ")}>
        {end > 0 && <Overview label="whole run" width={width} height={12} marks={marks} />}
        <Lanes width={width}>
          <TimeAxis width={width} />
          <InputsLane doings={world.doings} parts={rig.parts} />
          {lanes.readings.map(({ part, lane }) =>
            lane.texts ? (
              <TextLane key={part.name} part={part} lane={lane} width={width} />
            ) : (
              <SignalLane
                key={part.name}
                part={part}
                lane={lane}
                width={width}
                height={high(part, part.contact ? 40 : Math.round(tall * growth))}
                handles={on.get(part.name)}
                first={firsts.get(part.name)}
                actions={actions}
                trust={run?.trust[part.name]}
                onMove={move}
              />
            ),
          )}
          {run ? (
            <>
              <ProgramLanes run={run} lines={lines} lit={lit} settings={settings} width={width} onMove={move} onHover={onHover} onLine={onLine} />
              {lanes.outputs.map(({ part, lane }) => (
                <SignalLane
                  key={part.name}
                  part={part}
                  lane={lane}
                  ghost={answer?.behind?.find((ghost) => ghost.part === part.name)}
                  actual={run.angles.find((angle) => angle.part === part.name)}
                  width={width}
                  height={high(part, Math.round(54 * growth))}
                  actions={actions}
                  settings={sets.get(part.name)}
                  bars={run.program}
                  control={run.controls[part.name]}
                  onMove={move}
                />
              ))}
              {run.lines.map((lane) => (
                <SignalLane key={lane.part} part={asPart(lane)} lane={lane} width={width} height={Math.round(38 * growth)} />
              ))}
              {run.partner && <PartnerLanes partner={run.partner} width={width} />}
              <CheckLanes checks={answer?.checks ?? []} chosen={chosen} onChoose={onCheck} />
            </>
          ) : (
            <p className="relative z-30 border-b border-rule bg-paper px-3 py-4 text-[14px]">{instead}</p>
          )}
          {why && <WhyTrace told={why} width={width} />}
        </Lanes>
      </div>
    </div>
  );
});

/** How the first reading stands to the numbers it will be compared with: what holds already need not be waited for. */
function firstOf(text: string, part: Part, lane: Lane, handles: Moved[] | undefined): { words: string; holds: boolean } | undefined {
  const value = lane.values[0];
  if (!handles?.length || part.contact || value === undefined || (lane.times[0] ?? 0) > 0.05) return undefined;
  if (value === null) return { words: "first absent", holds: false };
  const held = handles.find((handle) => holds(text, handle, value));
  const sign = held && comparison(text, held);
  return held && sign ? { words: `first ${show(value, part.unit, 1)}: ${sign} ${show(held.value, "", 1)} already`, holds: true } : { words: `first ${show(value, part.unit, 1)}`, holds: false };
}

/** A line of the controller, drawn as an output is. */
function asPart(lane: Lane): Part {
  return { name: lane.part, kind: "line", role: "output", port: "", unit: "%", contact: false, says: false, encoder: false, follows: "hand", low: 0, high: 100, axes: [], keys: [], turns: false, stops: null, raw: null };
}
