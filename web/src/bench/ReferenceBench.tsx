import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";

import { api } from "../api/client";
import { useExercise, useFloors, useRigs, useTraces } from "../api/hooks";
import type { Exercise, Floor, Rig, Trace } from "../api/types";
import { Trouble } from "../ui/Trouble";
import { BenchView } from "./BenchView";
import { SavedWord } from "./SavedWord";
import { useAddress } from "./useAddress";
import { useCase } from "./useCase";
import { useSaved } from "./useSaved";

/** The bench with an exercise's reference behaviour and its checks. */
export function ReferenceBench() {
  const exercise = useExercise(Number(useParams().id));
  const rigs = useRigs();
  const traces = useTraces();
  const floors = useFloors();
  const error = exercise.error ?? rigs.error ?? traces.error ?? floors.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  const rig = rigs.data?.find((item) => item.id === exercise.data?.rig);
  if (!exercise.data || !rig || !traces.data || !floors.data) return <p className="p-6">Opening the bench …</p>;
  return <Open key={exercise.data.id} exercise={exercise.data} rig={rig} traces={traces.data} floors={floors.data} />;
}

function Open({ exercise, rig, traces, floors }: { exercise: Exercise; rig: Rig; traces: Trace[]; floors: Floor[] }) {
  const client = useQueryClient();
  const address = useAddress();
  const [text, setText] = useState(exercise.reference);
  const { world, trace, floor, choice, onDoings } = useCase(exercise, traces, floors);
  const { saving, save } = useSaved(async (reference) => {
    client.setQueryData(["exercise", exercise.id], await api.patch<Exercise>(`exercises/${exercise.id}`, { reference }));
    for (const key of ["exercises", "sheet"]) void client.invalidateQueries({ queryKey: [key] });
  });
  return (
    <BenchView
      title={
        <div className="flex items-center gap-2">
          <div className="min-w-0 flex-1">
            <h1 className="truncate text-[17px] leading-tight font-bold">Reference behaviour</h1>
            <Link className="text-[13px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}`}>
              {exercise.title}
            </Link>
          </div>
          <SavedWord saving={saving} />
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
      onText={(next) => {
        if (next === text) return;
        setText(next);
        save(next);
      }}
      onDoings={onDoings}
    />
  );
}
