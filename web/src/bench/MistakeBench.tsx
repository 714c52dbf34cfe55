import { useState } from "react";
import { useParams } from "react-router";

import { type ExerciseParts, useExerciseParts } from "../api/exerciseParts";
import { useProof } from "../api/hooks";
import { Trouble } from "../ui/Trouble";
import { BenchTitle } from "./BenchTitle";
import { CaseBench } from "./CaseBench";

interface Mistake {
  kind: string;
  line: number;
  what: string;
  text: string;
}

/** The bench with a planted mistake: what it changes, beside the reference. */
export function MistakeBench() {
  const { id, place = "" } = useParams();
  const { parts, error } = useExerciseParts(Number(id));
  const proof = useProof(Number(id));
  if (error ?? proof.error) return <div className="p-6"><Trouble error={error ?? proof.error} /></div>;
  if (!parts || !proof.data) return <p className="p-6">Opening the bench …</p>;
  const hidden = place.startsWith("hidden-");
  const mistakes = hidden ? proof.data.found?.hidden : proof.data.found?.mistakes;
  const mistake = mistakes?.[Number(place.replace("hidden-", ""))];
  if (!mistake) return <p className="p-6">This mistake is not there any more: proofread again.</p>;
  return <Open key={place} parts={parts} mistake={mistake} />;
}

function Open({ parts, mistake }: { parts: ExerciseParts; mistake: Mistake }) {
  const [text, setText] = useState(mistake.text);
  const title = (
    <BenchTitle
      title={`${mistake.kind}, line ${mistake.line}: ${mistake.what}`}
      to={`/exercises/${parts.exercise.id}/proof`}
      from={`Proofreading of ${parts.exercise.title}`}
    />
  );
  return <CaseBench parts={parts} title={title} text={text} onText={setText} />;
}
