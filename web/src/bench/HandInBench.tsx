import { useState } from "react";
import { useParams } from "react-router";

import { type ExerciseParts, useExerciseParts } from "../api/exerciseParts";
import { useHandIn } from "../api/hooks";
import type { HandIn } from "../api/generated";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { BenchTitle } from "./BenchTitle";
import { CaseBench } from "./CaseBench";
import { RecordedBench } from "./RecordedBench";

/** The bench with a student's hand-in: edits are tries and change nothing that was handed in. */
export function HandInBench() {
  const handIn = useHandIn(Number(useParams().id));
  const { parts, error } = useExerciseParts(handIn.data?.exercise ?? null);
  if (handIn.error ?? error) return <div className="p-6"><Trouble error={handIn.error ?? error} /></div>;
  if (!handIn.data || !parts) return <p className="p-6">Opening the hand-in …</p>;
  if (handIn.data.recorded) return <RecordedBench key={handIn.data.id} handIn={handIn.data} exercise={parts.exercise} rig={parts.rig} />;
  return <Open key={handIn.data.id} handIn={handIn.data} parts={parts} />;
}

function Open({ handIn, parts }: { handIn: HandIn; parts: ExerciseParts }) {
  const [text, setText] = useState(handIn.text);
  const title = (
    <BenchTitle title={handIn.student} to={`/exercises/${parts.exercise.id}/marks`} from={`Mark sheet of ${parts.exercise.title}`}>
      {text === handIn.text ? (
        <span className="text-[13px] text-soft">as handed in</span>
      ) : (
        <Button small onClick={() => setText(handIn.text)}>
          Back to the hand-in
        </Button>
      )}
    </BenchTitle>
  );
  return <CaseBench parts={parts} title={title} text={text} language={handIn.language} onText={setText} />;
}
