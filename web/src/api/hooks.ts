import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api } from "./client";
import type { BenchAnswer, Behaviour, Exercise, Floor, HandIn, Inputs, Job, Lanes, NotationWords, Override, Proof, Revision, Rig, Sheet, Trace, World } from "./types";

export const useMe = () => useQuery({ queryKey: ["me"], queryFn: () => api.get<{ name: string }>("me"), retry: false });
export const useRigs = () => useQuery({ queryKey: ["rigs"], queryFn: ({ signal }) => api.all<Rig>("rigs", signal) });
export const useTraces = () => useQuery({ queryKey: ["traces"], queryFn: ({ signal }) => api.all<Trace>("traces", signal) });
export const useFloors = () => useQuery({ queryKey: ["floors"], queryFn: ({ signal }) => api.all<Floor>("floors", signal) });
export const useFloor = (id: number) => useQuery({ queryKey: ["floor", id], queryFn: () => api.get<Floor>(`floors/${id}`) });
export const useInputs = () => useQuery({ queryKey: ["inputs"], queryFn: ({ signal }) => api.all<Inputs>("inputs", signal) });
export const useBehaviours = () =>
  useQuery({ queryKey: ["behaviours"], queryFn: ({ signal }) => api.all<Behaviour>("behaviours", signal) });
export const useExercises = () => useQuery({ queryKey: ["exercises"], queryFn: ({ signal }) => api.all<Exercise>("exercises", signal) });
export const useNotation = () =>
  useQuery({ queryKey: ["notation"], queryFn: () => api.get<NotationWords>("notation"), staleTime: Infinity });

export const useBehaviour = (id: number | null) =>
  useQuery({ queryKey: ["behaviour", id], queryFn: () => api.get<Behaviour>(`behaviours/${id}`), enabled: id !== null });
export const useExercise = (id: number | null) =>
  useQuery({ queryKey: ["exercise", id], queryFn: () => api.get<Exercise>(`exercises/${id}`), enabled: id !== null });
export const useHandIn = (id: number | null) =>
  useQuery({ queryKey: ["hand-in", id], queryFn: () => api.get<HandIn>(`hand-ins/${id}`), enabled: id !== null });
export const useHandIns = (exercise: number) =>
  useQuery({ queryKey: ["hand-ins", exercise], queryFn: ({ signal }) => api.all<HandIn>(`exercises/${exercise}/hand-ins`, signal) });
/** Looks again soon while work is going on. */
const whileRunning = (query: { state: { data?: { job: Job | null } } }) => (query.state.data?.job?.state === "running" ? 300 : false);

export const useSheet = (exercise: number) =>
  useQuery({
    queryKey: ["sheet", exercise],
    queryFn: () => api.get<Sheet>(`exercises/${exercise}/sheet`),
    refetchInterval: whileRunning,
  });
export const useOverrides = (handIn: number | null) =>
  useQuery({
    queryKey: ["overrides", handIn],
    queryFn: () => api.get<Override[]>(`hand-ins/${handIn}/overrides`),
    enabled: handIn !== null,
  });
export const useProof = (exercise: number) =>
  useQuery({
    queryKey: ["proof", exercise],
    queryFn: () => api.get<Proof>(`exercises/${exercise}/proof`),
    refetchInterval: whileRunning,
  });
export const useRevisions = (behaviour: number | null, open: boolean) =>
  useQuery({
    queryKey: ["revisions", behaviour],
    queryFn: ({ signal }) => api.all<Revision>(`behaviours/${behaviour}/revisions`, signal),
    enabled: behaviour !== null && open,
    staleTime: 0,
  });

export const useLanes = (trace: number | null, from: number, to: number, columns: number) =>
  useQuery({
    queryKey: ["lanes", trace, from, to, columns],
    queryFn: ({ signal }) => api.get<Lanes>(`traces/${trace}/lanes?from=${from}&to=${to}&columns=${columns}`, signal),
    enabled: trace !== null,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

export interface BenchQuestion extends World {
  rig: number | null;
  text: string;
  checks: string;
  reference: string;
  window: { from: number; to: number; columns: number } | null;
}

/** Runs a program whenever the question changes; the answer before stays until the new one is there. */
export const useBench = (question: BenchQuestion) =>
  useQuery({
    queryKey: ["bench", question],
    queryFn: ({ signal }) => api.bench<BenchAnswer>(question, signal),
    enabled: question.rig !== null,
    placeholderData: keepPreviousData,
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
      for (const world of worlds) answers.push(await api.bench<BenchAnswer>({ ...question, ...world }, signal));
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
      const query = window ? `?from=${window.from}&to=${window.to}&columns=${window.columns}` : "";
      return api.recording<Pick<BenchAnswer, "run" | "checks">>(`hand-ins/${handIn}/recording${query}`, signal);
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
