import { useState } from "react";
import { Link, useParams } from "react-router";

import { useExercise, useFloors, useHandIn, useRigs, useTraces } from "../api/hooks";
import type { Exercise, Floor, HandIn, Rig, Trace } from "../api/types";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { BenchView } from "./BenchView";
import { RecordedBench } from "./RecordedBench";
import { useAddress } from "./useAddress";
import { useCase } from "./useCase";

/** The bench with a student's hand-in: edits are tries and change nothing that was handed in. */
export function HandInBench() {
  const handIn = useHandIn(Number(useParams().id));
  const exercise = useExercise(handIn.data?.exercise ?? null);
  const rigs = useRigs();
  const traces = useTraces();
  const floors = useFloors();
  const error = handIn.error ?? exercise.error ?? rigs.error ?? traces.error ?? floors.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  const rig = rigs.data?.find((item) => item.id === exercise.data?.rig);
  if (!handIn.data || !exercise.data || !rig || !traces.data || !floors.data) return <p className="p-6">Opening the hand-in …</p>;
  if (handIn.data.recorded) return <RecordedBench key={handIn.data.id} handIn={handIn.data} exercise={exercise.data} rig={rig} />;
  return <Open key={handIn.data.id} handIn={handIn.data} exercise={exercise.data} rig={rig} traces={traces.data} floors={floors.data} />;
}

function Open({ handIn, exercise, rig, traces, floors }: { handIn: HandIn; exercise: Exercise; rig: Rig; traces: Trace[]; floors: Floor[] }) {
  const address = useAddress();
  const [text, setText] = useState(handIn.text);
  const { world, trace, floor, choice, onDoings } = useCase(exercise, traces, floors);
  return (
    <BenchView
      title={
        <div className="flex items-center gap-2">
          <div className="min-w-0 flex-1">
            <h1 className="truncate text-[17px] leading-tight font-bold">{handIn.student}</h1>
            <Link className="text-[13px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/marks`}>
              Mark sheet of {exercise.title}
            </Link>
          </div>
          {text === handIn.text ? (
            <span className="text-[13px] text-soft">as handed in</span>
          ) : (
            <Button small onClick={() => setText(handIn.text)}>
              Back to the hand-in
            </Button>
          )}
        </div>
      }
      choices={choice}
      rig={rig}
      world={world}
      trace={trace}
      floor={floor}
      exercise={exercise}
      text={text}
      openAt={address.number("at")}
      openCheck={address.text("check")}
      onText={setText}
      onDoings={onDoings}
    />
  );
}
