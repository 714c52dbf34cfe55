import { useState } from "react";
import { Link, useParams } from "react-router";

import { useExercise, useFloors, useProof, useRigs, useTraces } from "../api/hooks";
import type { Exercise, Floor, Rig, Trace } from "../api/types";
import { Trouble } from "../ui/Trouble";
import { BenchView } from "./BenchView";
import { useAddress } from "./useAddress";
import { useCase } from "./useCase";

/** The bench with a planted mistake: what it changes, beside the reference. */
export function MistakeBench() {
  const { id, place = "" } = useParams();
  const exercise = useExercise(Number(id));
  const proof = useProof(Number(id));
  const rigs = useRigs();
  const traces = useTraces();
  const floors = useFloors();
  const error = exercise.error ?? proof.error ?? rigs.error ?? traces.error ?? floors.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  const rig = rigs.data?.find((item) => item.id === exercise.data?.rig);
  if (!exercise.data || !proof.data || !rig || !traces.data || !floors.data) return <p className="p-6">Opening the bench …</p>;
  const hidden = place.startsWith("hidden-");
  const mistakes = hidden ? proof.data.found?.hidden : proof.data.found?.mistakes;
  const mistake = mistakes?.[Number(place.replace("hidden-", ""))];
  if (!mistake) return <p className="p-6">This mistake is not there any more: proofread again.</p>;
  return <Open key={place} exercise={exercise.data} rig={rig} traces={traces.data} floors={floors.data} mistake={mistake} />;
}

interface OpenProps {
  exercise: Exercise;
  rig: Rig;
  traces: Trace[];
  floors: Floor[];
  mistake: { kind: string; line: number; what: string; text: string };
}

function Open({ exercise, rig, traces, floors, mistake }: OpenProps) {
  const address = useAddress();
  const [text, setText] = useState(mistake.text);
  const { world, trace, floor, choice, onDoings } = useCase(exercise, traces, floors);
  return (
    <BenchView
      title={
        <div>
          <h1 className="truncate text-[17px] leading-tight font-bold">
            {mistake.kind}, line {mistake.line}: {mistake.what}
          </h1>
          <Link className="text-[13px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/proof`}>
            Proofreading of {exercise.title}
          </Link>
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
