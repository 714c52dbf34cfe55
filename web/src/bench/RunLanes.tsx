import { memo, useMemo } from "react";

import type { BenchAnswer, Lane, Part, Rig } from "../api/generated";
import type { World } from "../api/world";
import { moved } from "../model/handles";
import { CheckLanes } from "./CheckLanes";
import { InputsLane } from "./InputsLane";
import { Lanes } from "./Lanes";
import type { OnMove } from "./moving";
import { PartnerLanes } from "./PartnerLanes";
import { ProgramLanes } from "./ProgramLane";
import { SignalLane } from "./SignalLane";
import { TextLane } from "./TextLane";
import { TimeAxis } from "./TimeAxis";
import type { VisibleLanes } from "./visible";

interface Props {
  rig: Rig;
  world: World;
  /** What is drawn: of a text that has an error, what the last text without one did. */
  answer: BenchAnswer | undefined;
  stale: boolean;
  lanes: VisibleLanes;
  growth: number;
  width: number;
  lines: string[];
  lit: number | null;
  chosen: string | null;
  /** What stands in the place of the program's lanes while there is no run. */
  instead: string;
  onMove: OnMove;
  onLine: (line: number) => void;
  onHover: (line: number | null) => void;
  onCheck: (title: string | null) => void;
}

const NONE: never[] = [];
const NOTHING = () => undefined;

/** Everything that happens in a run, on one time axis: hands, readings, program, outputs, checks. */
export const RunLanes = memo(function RunLanes({ rig, world, answer, stale, lanes, growth, width, lines, lit, chosen, instead, onMove, onLine, onHover, onCheck }: Props) {
  const run = answer?.run ?? null;
  const [thresholds, settings] = [answer?.thresholds ?? NONE, answer?.settings ?? NONE];
  const handles = useMemo(() => moved(thresholds, settings), [thresholds, settings]);
  const on = useMemo(() => Map.groupBy(handles, (handle) => handle.part), [handles]);
  const sets = useMemo(() => Map.groupBy(settings.filter((setting) => setting.what === "output"), (setting) => setting.part), [settings]);
  const move = stale ? NOTHING : onMove;
  const tall = lanes.readings.length > 4 ? 62 : 78;
  return (
    <div className="relative">
      {stale && (
        <p className="absolute top-0 right-2 z-40 rounded-b border border-t-0 border-clay bg-clay-wash px-2 py-0.5 text-[13px]" data-stale="">
          The text has errors: this is the last run without them.
        </p>
      )}
    <div className={stale ? "stale" : ""} data-ran={stale ? "stale" : handles.map((handle) => handle.value).join(" ")}>
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
              height={part.contact ? 40 : Math.round(tall * growth)}
              handles={on.get(part.name)}
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
                ghost={answer?.reference?.find((ghost) => ghost.part === part.name)}
                actual={run.angles.find((angle) => angle.part === part.name)}
                width={width}
                height={Math.round(54 * growth)}
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
      </Lanes>
    </div>
    </div>
  );
});

/** A line of the controller, drawn as an output is. */
function asPart(lane: Lane): Part {
  return { name: lane.part, kind: "line", role: "output", port: "", unit: "%", contact: false, says: false, encoder: false, follows: "hand", low: 0, high: 100, axes: [], keys: [], turns: false, stops: null };
}
