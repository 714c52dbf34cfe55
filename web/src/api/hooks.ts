import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { all, answer, run } from "./client";
import {
  type Behaviour,
  type BenchAnswer,
  type Job,
  behavioursList,
  behavioursRetrieve,
  behavioursRevisionsList,
  benchRunCreate,
  exercisesHandInsList,
  exercisesProofRetrieve,
  exercisesRetrieve,
  exercisesSheetRetrieve,
  floorsList,
  floorsRetrieve,
  handInsOverridesList,
  handInsRecordingRetrieve,
  handInsRetrieve,
  inputsList,
  meRetrieve,
  measurementsList,
  notationRetrieve,
  recordingsList,
  rigsList,
  shelfItemsList,
  rigWordsRetrieve,
  tracesLanesRetrieve,
  tracesList,
  tracesNotesList,
  tracesRetrieve,
  wordbooksList,
  wordbooksRetrieve,
  type HandIn,
  type ShelfKind,
} from "./generated";
import type { World } from "./world";

export const useMe = () => useQuery({ queryKey: ["me"], queryFn: () => answer(meRetrieve()), retry: false });
export const useRigs = () => useQuery({ queryKey: ["rigs"], queryFn: ({ signal }) => all((query) => rigsList({ query, signal })) });
export const useTraces = () => useQuery({ queryKey: ["traces"], queryFn: ({ signal }) => all((query) => tracesList({ query, signal })) });
export const useRecordings = () =>
  useQuery({ queryKey: ["recordings"], queryFn: ({ signal }) => all((query) => recordingsList({ query, signal })) });
export const useTrace = (id: number) => useQuery({ queryKey: ["trace", id], queryFn: () => answer(tracesRetrieve({ path: { id } })) });
export const useNotes = (trace: number) => useQuery({ queryKey: ["notes", trace], queryFn: () => answer(tracesNotesList({ path: { id: trace } })) });
export const useRigWords = () => useQuery({ queryKey: ["rig-words"], queryFn: () => answer(rigWordsRetrieve()), staleTime: Infinity });
/** The numbers that a behaviour compares readings with. */
export const useThresholdsOf = (rig: number, behaviour: Behaviour | undefined) =>
  useQuery({
    queryKey: ["thresholds of", behaviour?.id, behaviour?.version],
    queryFn: ({ signal }) => answer(benchRunCreate({ body: { rig, text: behaviour?.text ?? "", language: "notation" }, signal })),
    enabled: behaviour !== undefined,
    retry: 3,
  });
export const useMeasurements = () =>
  useQuery({ queryKey: ["measurements"], queryFn: ({ signal }) => all((query) => measurementsList({ query, signal })) });
export const useFloors = () => useQuery({ queryKey: ["floors"], queryFn: ({ signal }) => all((query) => floorsList({ query, signal })) });
export const useFloor = (id: number) => useQuery({ queryKey: ["floor", id], queryFn: () => answer(floorsRetrieve({ path: { id } })) });
export const useInputs = () => useQuery({ queryKey: ["inputs"], queryFn: ({ signal }) => all((query) => inputsList({ query, signal })) });
export const useBehaviours = () =>
  useQuery({ queryKey: ["behaviours"], queryFn: ({ signal }) => all((query) => behavioursList({ query, signal })) });
export const useWordbooks = () =>
  useQuery({ queryKey: ["wordbooks"], queryFn: ({ signal }) => all((query) => wordbooksList({ query, signal })) });
export const useWordbook = (id: number) => useQuery({ queryKey: ["wordbook", id], queryFn: () => answer(wordbooksRetrieve({ path: { id } })) });
/** All of a kind for a rig by their names, to choose from; none before the rig is known. */
export const useTitles = (kind: ShelfKind, rig: number | undefined) =>
  useQuery({ queryKey: [kind, "titles", rig], queryFn: ({ signal }) => answer(shelfItemsList({ path: { kind }, query: { rig }, signal })), enabled: rig !== undefined });
export const useNotation = () =>
  useQuery({ queryKey: ["notation"], queryFn: () => answer(notationRetrieve()), staleTime: Infinity });

export const useBehaviour = (id: number | null) =>
  useQuery({ queryKey: ["behaviour", id], queryFn: () => answer(behavioursRetrieve({ path: { id: id ?? 0 } })), enabled: id !== null });
export const useExercise = (id: number | null) =>
  useQuery({ queryKey: ["exercise", id], queryFn: () => answer(exercisesRetrieve({ path: { id: id ?? 0 } })), enabled: id !== null });
export const useHandIn = (id: number | null) =>
  useQuery({ queryKey: ["hand-in", id], queryFn: () => answer(handInsRetrieve({ path: { id: id ?? 0 } })), enabled: id !== null });
export const useHandIns = (exercise: number) =>
  useQuery({ queryKey: ["hand-ins", exercise], queryFn: ({ signal }) => all((query) => exercisesHandInsList({ path: { id: exercise }, query, signal })) });
/** Looks again soon while work is going on. */
const whileRunning = (query: { state: { data?: { job: Job | null } } }) => (query.state.data?.job?.state === "running" ? 300 : false);

export const useSheet = (exercise: number) =>
  useQuery({
    queryKey: ["sheet", exercise],
    queryFn: () => answer(exercisesSheetRetrieve({ path: { id: exercise } })),
    refetchInterval: whileRunning,
  });
export const useOverrides = (handIn: number | null) =>
  useQuery({
    queryKey: ["overrides", handIn],
    queryFn: () => answer(handInsOverridesList({ path: { id: handIn ?? 0 } })),
    enabled: handIn !== null,
  });
export const useProof = (exercise: number) =>
  useQuery({
    queryKey: ["proof", exercise],
    queryFn: () => answer(exercisesProofRetrieve({ path: { id: exercise } })),
    refetchInterval: whileRunning,
  });
export const useRevisions = (behaviour: number | null, open: boolean) =>
  useQuery({
    queryKey: ["revisions", behaviour],
    queryFn: ({ signal }) => all((query) => behavioursRevisionsList({ path: { id: behaviour ?? 0 }, query, signal })),
    enabled: behaviour !== null && open,
    staleTime: 0,
  });

export const useLanes = (trace: number | null, from: number, to: number, columns: number) =>
  useQuery({
    queryKey: ["lanes", trace, from, to, columns],
    queryFn: ({ signal }) => answer(tracesLanesRetrieve({ path: { id: trace ?? 0 }, query: { from, to, columns }, signal })),
    enabled: trace !== null,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

export interface BenchQuestion extends World {
  rig: number | null;
  text: string;
  language: NonNullable<HandIn["language"]>;
  wordbooks: number[];
  checks: string;
  reference: string;
  /** A program whose run is drawn behind, in the place of the reference's. */
  behind?: { text: string; language: NonNullable<HandIn["language"]> } | null;
  window: { from: number; to: number; columns: number } | null;
}

/** A program that is run, as a query; a question stays answered. */
export const benchQuery = (question: BenchQuestion) => ({
  queryKey: ["bench", question],
  queryFn: ({ signal }: { signal: AbortSignal }) => run(() => benchRunCreate({ body: { ...question, rig: question.rig ?? 0 }, signal }), signal),
  enabled: question.rig !== null,
  staleTime: Infinity,
  gcTime: 60_000,
  retry: false,
});

/** The bench's answers in several worlds, one after the other: a teacher has one run at a time. */
export const usePreview = (question: Omit<BenchQuestion, keyof World | "window">, worlds: World[]) =>
  useQuery({
    queryKey: ["preview", question, worlds],
    queryFn: async ({ signal }) => {
      const answers: BenchAnswer[] = [];
      for (const world of worlds) answers.push(await run(() => benchRunCreate({ body: { ...question, ...world, rig: question.rig ?? 0 }, signal }), signal));
      return answers;
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });

/** A recorded hand-in as the bench shows it, in a window of time. */
export const useRecording = (handIn: number, window: BenchQuestion["window"]) =>
  useQuery({
    queryKey: ["recording", handIn, window],
    queryFn: ({ signal }) => {
      const asked = { path: { id: handIn }, query: window ?? undefined, signal };
      return run(() => handInsRecordingRetrieve(asked), signal);
    },
    placeholderData: keepPreviousData,
    retry: false,
  });

/** A change on the server, and the lists that are fetched again after it. */
export function useChange<Input, Output>(change: (input: Input) => Promise<Output>, ...stale: string[]) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}
