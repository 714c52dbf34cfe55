import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";

import { answer } from "../api/client";
import { type ExerciseParts, useExerciseParts } from "../api/exerciseParts";
import { exercisesPartialUpdate } from "../api/generated";
import { Conflict } from "../saving/Conflict";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { Trouble } from "../ui/Trouble";
import { BenchTitle } from "./BenchTitle";
import { CaseBench } from "./CaseBench";
import { InClassWords } from "./InClassWords";

/** The bench with an exercise's reference behaviour and its checks. */
export function ReferenceBench() {
  const { parts, error } = useExerciseParts(Number(useParams().id));
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!parts) return <p className="p-6">Opening the bench …</p>;
  return <Open key={parts.exercise.id} parts={parts} />;
}

function Open({ parts }: { parts: ExerciseParts }) {
  const { exercise } = parts;
  const client = useQueryClient();
  const { saving, left, save, keepMine, takeTheirs } = useSaved<{ reference: string }>(async (change, started_from) => {
    const kept = await answer(exercisesPartialUpdate({ path: { id: exercise.id }, body: { ...change, started_from } }));
    client.setQueryData(["exercise", exercise.id], kept);
    for (const key of ["exercises", "sheet"]) void client.invalidateQueries({ queryKey: [key] });
    return { reference: kept.versions.reference };
  }, { reference: exercise.versions.reference }, `reference ${exercise.id}`);
  const [text, setText] = useState(left.reference ?? exercise.reference);
  return (
    <CaseBench
      parts={parts}
      title={
        <BenchTitle title="Reference behaviour" to={`/exercises/${exercise.id}`} from={exercise.title}>
          <SavedWord saving={saving} />
          <InClassWords rig={exercise.rig} title={exercise.title} text={text} />
        </BenchTitle>
      }
      notice={<Conflict saving={saving} what="The reference" kept="" onMine={keepMine} onTheirs={() => setText(takeTheirs().reference ?? text)} />}
      text={text}
      onText={(next) => {
        if (next === text) return;
        setText(next);
        save({ reference: next });
      }}
    />
  );
}
