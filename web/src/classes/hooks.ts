import { useQuery } from "@tanstack/react-query";

import { all, answer } from "../api/client";
import { assignmentsList, assignmentsStandingsList, classesList, classesStudentsList, exercisesAlikeList } from "../api/generated";

const EVERY_MS = 4_000;

export const useClasses = () => useQuery({ queryKey: ["classes"], queryFn: ({ signal }) => all((query) => classesList({ query, signal })) });
export const useStudents = (id: number) => useQuery({ queryKey: ["students", id], queryFn: ({ signal }) => answer(classesStudentsList({ path: { id }, signal })) });
export const useAssignments = (exercise: number) =>
  useQuery({ queryKey: ["assignments", exercise], queryFn: async ({ signal }) => (await answer(assignmentsList({ signal }))).filter((item) => item.exercise === exercise) });
/** Who has handed in: looked at anew all the time, as hand-ins come when they come. */
export const useStandings = (id: number) =>
  useQuery({ queryKey: ["standings", id], queryFn: ({ signal }) => answer(assignmentsStandingsList({ path: { id }, signal })), refetchInterval: EVERY_MS });
export const useAlike = (exercise: number) =>
  useQuery({ queryKey: ["alike", exercise], queryFn: ({ signal }) => answer(exercisesAlikeList({ path: { id: exercise }, signal })), refetchInterval: 4 * EVERY_MS });
