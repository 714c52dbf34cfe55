import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { api } from "../api/client";
import { type ExerciseParts, useExerciseParts } from "../api/exerciseParts";
import { useChange, useNotation } from "../api/hooks";
import type { Exercise, HandIn, NotationWords } from "../api/types";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { UploadButton } from "../ui/UploadButton";
import { BriefField } from "./BriefField";
import { Cases } from "./Cases";
import { HandIns } from "./HandIns";
import { PointsForm, type PointRules } from "./PointsForm";
import { Texts } from "./Texts";

/** An exercise: what it asks, what it is tried on, how it is checked, and what came in. */
export function ExercisePage() {
  const id = Number(useParams().id);
  const { parts, error } = useExerciseParts(id);
  const words = useNotation();
  if (error ?? words.error) return <div className="p-6"><Trouble error={error ?? words.error} /></div>;
  if (!parts || !words.data) return <p className="p-6">Opening the exercise …</p>;
  return <Open key={id} {...parts} words={words.data} />;
}

type Draft = Pick<Exercise, "title" | "brief" | "reference" | "checks"> & PointRules;

function useDraft(exercise: Exercise) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<Draft>(exercise);
  const [error, setError] = useState<unknown>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const unsaved = useRef<Partial<Draft>>({});
  const save = useCallback(async () => {
    clearTimeout(timer.current);
    const change = unsaved.current;
    if (!Object.keys(change).length) return;
    unsaved.current = {};
    try {
      const saved = await api.patch<Exercise>(`exercises/${exercise.id}`, change);
      client.setQueryData(["exercise", exercise.id], saved);
      setError(null);
      for (const key of ["exercises", "sheet"]) void client.invalidateQueries({ queryKey: [key] });
    } catch (problem) {
      unsaved.current = { ...change, ...unsaved.current };
      setError(problem);
    }
  }, [client, exercise.id]);
  useEffect(() => () => void save(), [save]);
  const change = (part: Partial<Draft>) => {
    setDraft((before) => ({ ...before, ...part }));
    unsaved.current = { ...unsaved.current, ...part };
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void save(), 500);
  };
  return { draft, change, save, error };
}

interface OpenProps extends ExerciseParts {
  words: NotationWords;
}

function Open({ exercise, rig, traces, floors, words }: OpenProps) {
  const navigate = useNavigate();
  const { draft, change, save, error } = useDraft(exercise);
  const upload = useChange(
    async (files: File[]) => {
      const form = new FormData();
      files.forEach((file) => form.append("files", file));
      return api.upload<HandIn[]>(`exercises/${exercise.id}/hand-ins`, form);
    },
    "hand-ins",
    "exercise",
    "exercises",
    "sheet",
  );
  const grade = useChange(async () => {
    await save();
    return api.post(`exercises/${exercise.id}/grade`, {});
  }, "sheet");
  const trouble = error ?? upload.error ?? grade.error;
  return (
    <div className="mx-auto flex h-full max-w-[1400px] flex-col px-5 py-3">
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <input
          className="min-w-60 flex-1 rounded border border-transparent bg-transparent px-1 text-2xl font-bold hover:border-rule"
          aria-label="Title of the exercise"
          value={draft.title}
          maxLength={100}
          onChange={(event) => change({ title: event.target.value })}
        />
        <span className="text-[14px] text-soft">for {rig.name}</span>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/bench`}>
          Reference on the bench
        </Link>
        <Link className="px-1 text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/proof`}>
          Proofread
        </Link>
        <UploadButton large accept=".geduld,.txt,.csv" multiple onFiles={(files) => upload.mutate(files)}>
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
      {trouble && <div className="mb-3"><Trouble error={trouble} /></div>}
      <div className="grid min-h-0 flex-1 grid-cols-1 gap-5 lg:grid-cols-[300px_minmax(0,1fr)]">
        <div className="relative flex min-h-0 flex-col gap-4 overflow-auto pr-1 pb-2">
          <BriefField brief={draft.brief} onChange={(brief) => change({ brief })} />
          <Cases exercise={exercise} rig={rig} traces={traces} floors={floors} />
          <PointsForm rules={draft} onChange={change} />
          <HandIns exercise={exercise} />
        </div>
        <Texts exercise={exercise} rig={rig} floors={floors} words={words} reference={draft.reference} checks={draft.checks} onChange={change} />
      </div>
    </div>
  );
}
