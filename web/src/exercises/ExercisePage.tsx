import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { answer } from "../api/client";
import { type ExerciseParts, useExerciseParts } from "../api/exerciseParts";
import { useChange, useNotation } from "../api/hooks";
import { exercisesGradeCreate, exercisesHandInsCreate, exercisesPartialUpdate, type Exercise, type NotationWords } from "../api/generated";
import { Conflict } from "../saving/Conflict";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { isZip } from "../model/folders";
import { AllAtOnce } from "../ui/AllAtOnce";
import { Button } from "../ui/Button";
import { Pane, Panes } from "../ui/Panes";
import { Trouble } from "../ui/Trouble";
import { UploadButton } from "../ui/UploadButton";
import { BriefField } from "./BriefField";
import { Cases } from "./Cases";
import { Collected, HAND_INS_STALE } from "./Collected";
import { HandIns } from "./HandIns";
import { PointsForm, type PointRules } from "./PointsForm";
import { Texts } from "./Texts";
import { WordbookChoice } from "./WordbookChoice";
import { useOpened } from "../shelf/useShelf";

/** An exercise: what it asks, what it is tried on, how it is checked, and what came in. */
export function ExercisePage() {
  const id = Number(useParams().id);
  useOpened("exercises", id);
  const { parts, error } = useExerciseParts(id);
  const words = useNotation();
  if (error ?? words.error) return <div className="p-6"><Trouble error={error ?? words.error} /></div>;
  if (!parts || !words.data) return <p className="p-6">Opening the exercise …</p>;
  return <Open key={id} {...parts} words={words.data} />;
}

type Draft = Pick<Exercise, "title" | "brief" | "reference" | "checks"> & PointRules;

function useDraft(exercise: Exercise) {
  const client = useQueryClient();
  const { save, ...saved } = useSaved<Draft>(async (change, started_from) => {
    const kept = await answer(exercisesPartialUpdate({ path: { id: exercise.id }, body: { ...change, started_from } }));
    client.setQueryData(["exercise", exercise.id], kept);
    for (const key of ["exercises", "sheet"]) void client.invalidateQueries({ queryKey: [key] });
    return kept.versions;
  }, exercise.versions, `exercise ${exercise.id}`);
  const [draft, setDraft] = useState<Draft>({ ...exercise, ...saved.left });
  const change = (part: Partial<Draft>) => {
    setDraft((before) => ({ ...before, ...part }));
    save(part);
  };
  const takeTheirs = () => {
    const theirs = saved.takeTheirs();
    setDraft((before) => ({ ...before, ...theirs }));
  };
  return { ...saved, draft, change, takeTheirs };
}

interface OpenProps extends ExerciseParts {
  words: NotationWords;
}

function Open({ exercise, rig, traces, floors, words }: OpenProps) {
  const navigate = useNavigate();
  const { draft, change, saving, settled, keepMine, takeTheirs } = useDraft(exercise);
  const upload = useChange(
    (files: File[]) => answer(exercisesHandInsCreate({ path: { id: exercise.id }, body: { files } })),
    ...HAND_INS_STALE,
  );
  const [collected, setCollected] = useState<File[]>([]);
  const grade = useChange(async () => {
    await settled();
    return answer(exercisesGradeCreate({ path: { id: exercise.id } }));
  }, "sheet");
  const refused = saving.state === "refused" || saving.state === "failed" ? saving.error : null;
  const trouble = refused ?? upload.error ?? grade.error;
  return (
    <div className="mx-auto flex h-full max-w-[1400px] flex-col px-5 py-3">
      <div className="relative mb-3 flex flex-wrap items-center gap-2">
        <h1 className="sr-only">{draft.title}</h1>
        <input
          className="min-w-60 flex-1 rounded border border-transparent bg-transparent px-1 text-2xl font-bold hover:border-rule"
          aria-label="Title of the exercise"
          value={draft.title}
          maxLength={100}
          onChange={(event) => change({ title: event.target.value })}
        />
        <SavedWord saving={saving} />
        <span className="text-[14px] text-soft">for {rig.name}</span>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/bench`}>
          Reference on the bench
        </Link>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/proof`}>
          Proofread
        </Link>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/collect`}>
          Handing in
        </Link>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/share`}>
          Share
        </Link>
        <UploadButton large accept=".geduld,.txt,.py,.c,.cpp,.cc,.h,.csv,.vcd,.zip" multiple onFiles={(files) => (files.some(isZip) ? setCollected(files) : upload.mutate(files))}>
          Upload hand-ins
        </UploadButton>
        <Button
          strong
          disabled={grade.isPending || !exercise.hand_in_count}
          onClick={() => grade.mutate(undefined, { onSuccess: () => void navigate(`/exercises/${exercise.id}/marks`) })}
        >
          {grade.isPending ? "Grading …" : "Grade the class"}
        </Button>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/marks`}>
          Mark sheet
        </Link>
      </div>
      {exercise.broken && (
        <p className="mb-3 rounded border border-clay bg-clay-wash px-3 py-2 text-[14px]" role="alert">
          Geduld cannot read this exercise as it is: {exercise.broken}
        </p>
      )}
      <Conflict saving={saving} what="This exercise" kept="" onMine={keepMine} onTheirs={takeTheirs} />
      {trouble && <div className="mb-3"><Trouble error={trouble} /></div>}
      <div className="min-h-0 flex-1">
        <Panes id="exercise" narrow={1000}>
          <Pane id="task" size={310} least={220} most="50%" keeps>
            <AllAtOnce className="relative flex h-full flex-col gap-4 overflow-auto pr-3 pb-2">
              <BriefField brief={draft.brief} onChange={(brief) => change({ brief })} />
              <Cases exercise={exercise} rig={rig} traces={traces} floors={floors} />
              <PointsForm rules={draft} onChange={change} />
              <WordbookChoice exercise={exercise} />
              <HandIns exercise={exercise} onFolder={setCollected} />
              {collected.length > 0 && <Collected exercise={exercise.id} files={collected} onClose={() => setCollected([])} />}
            </AllAtOnce>
          </Pane>
          <Pane id="texts" bar="Width of the task" least={420} low="760px">
            <Texts exercise={exercise} rig={rig} floors={floors} words={words} reference={draft.reference} checks={draft.checks} onChange={change} />
          </Pane>
        </Panes>
      </div>
    </div>
  );
}
