import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api } from "./client";
import type { BenchAnswer, Behaviour, Exercise, HandIn, Lanes, NotationWords, Revision, Rig, Sheet, Trace } from "./types";

export const useMe = () => useQuery({ queryKey: ["me"], queryFn: () => api.get<{ name: string }>("me"), retry: false });
export const useRigs = () => useQuery({ queryKey: ["rigs"], queryFn: () => api.get<Rig[]>("rigs") });
export const useTraces = () => useQuery({ queryKey: ["traces"], queryFn: () => api.get<Trace[]>("traces") });
export const useBehaviours = () =>
  useQuery({ queryKey: ["behaviours"], queryFn: () => api.get<Behaviour[]>("behaviours") });
export const useExercises = () => useQuery({ queryKey: ["exercises"], queryFn: () => api.get<Exercise[]>("exercises") });
export const useNotation = () =>
  useQuery({ queryKey: ["notation"], queryFn: () => api.get<NotationWords>("notation"), staleTime: Infinity });

export const useBehaviour = (id: number | null) =>
  useQuery({ queryKey: ["behaviour", id], queryFn: () => api.get<Behaviour>(`behaviours/${id}`), enabled: id !== null });
export const useExercise = (id: number | null) =>
  useQuery({ queryKey: ["exercise", id], queryFn: () => api.get<Exercise>(`exercises/${id}`), enabled: id !== null });
export const useHandIn = (id: number | null) =>
  useQuery({ queryKey: ["hand-in", id], queryFn: () => api.get<HandIn>(`hand-ins/${id}`), enabled: id !== null });
export const useHandIns = (exercise: number) =>
  useQuery({ queryKey: ["hand-ins", exercise], queryFn: () => api.get<HandIn[]>(`exercises/${exercise}/hand-ins`) });
export const useSheet = (exercise: number) =>
  useQuery({ queryKey: ["sheet", exercise], queryFn: () => api.get<Sheet>(`exercises/${exercise}/sheet`) });
export const useRevisions = (behaviour: number | null, open: boolean) =>
  useQuery({
    queryKey: ["revisions", behaviour],
    queryFn: () => api.get<Revision[]>(`behaviours/${behaviour}/revisions`),
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

export interface BenchQuestion {
  rig: number | null;
  text: string;
  trace: number | null;
  checks: string;
  reference: string;
  limit: number | null;
  window: { from: number; to: number; columns: number } | null;
}

/** Runs a program whenever the question changes; the answer before stays until the new one is there. */
export const useBench = (question: BenchQuestion) =>
  useQuery({
    queryKey: ["bench", question],
    queryFn: ({ signal }) => api.post<BenchAnswer>("bench/run", question, signal),
    enabled: question.rig !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
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
