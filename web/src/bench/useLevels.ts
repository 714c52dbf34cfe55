import { useQueries } from "@tanstack/react-query";

import { answer } from "../api/client";
import { tracesLevelsRetrieve, type Lane, type Levels, type Part, type Rig } from "../api/generated";

const MOST_ASKED = 6;

/** The sensors of a rig that are read here, and the two levels that a trace has of those that measure. */
export function useLevels(rig: Rig, trace: number | null, readings: Lane[]): { sensors: Part[]; levels: Map<string, Levels> } {
  const sensors = rig.parts.filter((part) => part.role === "sensor" && (part.contact || part.says || readings.some((lane) => lane.part === part.name)));
  const numeric = sensors.filter((part) => !part.contact && !part.says).slice(0, MOST_ASKED);
  const asked = useQueries({
    queries: numeric.map((part) => ({
      queryKey: ["levels", trace, part.name, "whole"],
      queryFn: () => answer(tracesLevelsRetrieve({ path: { id: trace ?? 0 }, query: { channel: part.name } })),
      enabled: trace !== null,
      staleTime: Infinity,
      retry: false,
    })),
  });
  return { sensors, levels: new Map(numeric.flatMap((part, index): [string, Levels][] => (asked[index]?.data ? [[part.name, asked[index].data]] : []))) };
}
