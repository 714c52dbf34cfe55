import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { run } from "../api/client";
import { benchRunCreate, type Case, type Exercise } from "../api/generated";
import { useLanes } from "../api/hooks";
import { worldOf } from "../model/hands";

const COLUMNS = 400;

/** What a text of checks says about the reference in a case, and what was read there. */
export function useTried(exercise: Exercise, reference: string, item: Case | undefined, checks: string | null) {
  const lasts = (item?.duration_us ?? 0) / 1e6;
  const window = { from: 0, to: lasts, columns: COLUMNS };
  const tried = useQuery({
    queryKey: ["tried", exercise.rig, reference, item?.id, checks],
    queryFn: ({ signal }) =>
      run(
        () =>
          benchRunCreate({
            body: { ...worldOf(item), rig: exercise.rig, text: reference, language: "notation", wordbooks: [], checks: checks ?? "", reference, window },
            signal,
          }),
        signal,
      ),
    enabled: item !== undefined && checks !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const recorded = useLanes(item?.trace ?? null, 0, lasts, COLUMNS).data?.lanes;
  return { ...tried, readings: tried.data?.run?.readings ?? recorded ?? NONE };
}

const NONE: never[] = [];
