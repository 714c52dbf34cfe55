import { useExercise, useFloors, useRigs, useTraces } from "./hooks";
import type { Exercise, Floor, Rig, Trace } from "./generated";

/** An exercise with what it is made of. */
export interface ExerciseParts {
  exercise: Exercise;
  rig: Rig;
  /** All that were recorded with its rig. */
  traces: Trace[];
  floors: Floor[];
}

/** An exercise with its rig, traces and floors; null until all of them are there. */
export function useExerciseParts(id: number | null): { parts: ExerciseParts | null; error: unknown } {
  const exercise = useExercise(id);
  const rigs = useRigs();
  const traces = useTraces();
  const floors = useFloors();
  const error = exercise.error ?? rigs.error ?? traces.error ?? floors.error;
  const rig = rigs.data?.find((item) => item.id === exercise.data?.rig);
  if (!exercise.data || !rig || !traces.data || !floors.data) return { parts: null, error };
  return { parts: { exercise: exercise.data, rig, traces: traces.data.filter((item) => item.rig === rig.id), floors: floors.data }, error };
}
