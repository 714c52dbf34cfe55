import { useEffect, useMemo, useRef, useState } from "react";

import { useRecording, useSheet } from "../api/hooks";
import type { Exercise, HandIn, Rig } from "../api/generated";
import { MarkItem } from "../marks/MarkItem";
import { totalsOf } from "../model/sheet";
import { instants } from "../model/signals";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { BenchTitle } from "./BenchTitle";
import { CheckLanes } from "./CheckLanes";
import { Evidence } from "./Evidence";
import { Lanes } from "./Lanes";
import { SignalLane } from "./SignalLane";
import { startClock, useAxis, useSpan } from "./store";
import { TextLane } from "./TextLane";
import { TimeAxis } from "./TimeAxis";
import { Transport } from "./Transport";
import { useAddress } from "./useAddress";
import { useBenchKeys } from "./useBenchKeys";
import { useSettled } from "../ui/useSettled";
import { useSize } from "./useSize";
import { useSteps } from "./useSteps";
import { room, useNamed, useVisibleLanes } from "./visible";

const COLUMNS = 900;

/** What a real robot did, on the bench's time axis, with the marks that its recording got. There is no program to run. */
export function RecordedBench({ handIn, exercise, rig }: { handIn: HandIn; exercise: Exercise; rig: Rig }) {
  const address = useAddress();
  const [chosen, setChosen] = useState(address.text("check"));
  const [all, setAll] = useState(false);
  const { from, to, end } = useSpan();
  const seen = useSettled(useMemo(() => (from <= 0 && to >= end ? null : { from, to, columns: COLUMNS }), [from, to, end]), 120);
  const recording = useRecording(handIn.id, seen);
  const run = recording.data?.run;
  const checks = useMemo(() => recording.data?.checks ?? [], [recording.data]);
  const lasted = run?.lasted ?? 1;
  const openAt = address.number("at");
  useEffect(startClock, []);
  useEffect(() => {
    useAxis.getState().setEnd(lasted);
    if (openAt !== null) useAxis.getState().move(openAt);
  }, [lasted, openAt]);
  const moments = useMemo(
    () => instants([run?.outputs.flatMap((lane) => lane.times) ?? [], checks.flatMap((check) => (check.at === null ? [] : [check.at]))]),
    [run, checks],
  );
  const step = useSteps(moments);
  useBenchKeys(step);
  const lanes = useVisibleLanes(rig, useNamed(rig, "", exercise.checks), run?.readings ?? undefined, run?.outputs, all);
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const growth = room(height, lanes, null, checks.length);
  const verdict = checks.find((check) => check.title === chosen);
  return (
    <div className="flex h-full min-h-0">
      <section className="flex w-[35%] max-w-[540px] min-w-[340px] flex-col border-r border-rule bg-sheet" aria-label="Marks">
        <div className="border-b border-rule px-3 py-2">
          <BenchTitle title={handIn.student} to={`/exercises/${exercise.id}/marks`} from={`Mark sheet of ${exercise.title}`} />
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto px-3 py-3">
          <p className="mb-3 text-[14px] text-soft">A recorded run of the real robot. The checks judge the recording itself: there is no program to run.</p>
          <Marks handIn={handIn} />
        </div>
      </section>
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Run">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-3 py-2">
          <Transport onStep={step} />
          <span className="flex-1" />
          {(all || lanes.hidden > 0) && (
            <Button small onClick={() => setAll(!all)} aria-pressed={all}>
              {all ? "Hide quiet lanes" : `Show ${lanes.hidden} more`}
            </Button>
          )}
        </div>
        <div ref={box} className="min-h-0 flex-1 overflow-y-auto">
          <Trouble error={recording.error} />
          {run && width > 0 && (
            <Lanes width={width}>
              <TimeAxis width={width} />
              {lanes.readings.map(({ part, lane }) =>
                lane.texts ? (
                  <TextLane key={part.name} part={part} lane={lane} width={width} />
                ) : (
                  <SignalLane key={part.name} part={part} lane={lane} width={width} height={part.contact ? 40 : Math.round(70 * growth)} />
                ),
              )}
              {lanes.outputs.map(({ part, lane }) => (
                <SignalLane key={part.name} part={part} lane={lane} width={width} height={Math.round(54 * growth)} />
              ))}
              <CheckLanes checks={checks} chosen={chosen} onChoose={setChosen} />
            </Lanes>
          )}
        </div>
        {verdict && <Evidence verdict={verdict} onClose={() => setChosen(null)} />}
      </section>
    </div>
  );
}

function Marks({ handIn }: { handIn: HandIn }) {
  const row = useSheet(handIn.exercise).data?.rows.find((item) => item.hand_in === handIn.id);
  if (!row) return null;
  if (!row.graded) return <p>Not graded yet.</p>;
  if (row.problem) return <p className="rounded border border-clay px-3 py-2">{row.problem}</p>;
  return (
    <ul className="space-y-2.5">
      {totalsOf(row).map((mark) => (
        <MarkItem key={mark.check} mark={mark} given={row.given[mark.check]} />
      ))}
    </ul>
  );
}
