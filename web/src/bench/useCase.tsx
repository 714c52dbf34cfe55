import { useState } from "react";

import type { Doing, Exercise, Floor, Trace } from "../api/types";
import { Choice } from "../ui/Choice";
import { worldOf } from "../model/hands";
import { useAddress } from "./useAddress";

/** The case of an exercise that the address names, and the control to choose another. Hands in it are tries. */
export function useCase(exercise: Exercise, traces: Trace[], floors: Floor[]) {
  const address = useAddress();
  const chosen = exercise.cases.find((item) => item.name === address.text("case")) ?? exercise.cases[0];
  const [tried, setTried] = useState<{ of: number; doings: Doing[] } | null>(null);
  const [world, setWorld] = useState(() => ({ of: chosen, world: worldOf(chosen) }));
  if (world.of !== chosen) setWorld({ of: chosen, world: worldOf(chosen) });
  return {
    world: tried && tried.of === chosen?.id ? { ...world.world, doings: tried.doings } : world.world,
    trace: traces.find((item) => item.id === chosen?.trace) ?? null,
    floor: floors.find((item) => item.id === chosen?.floor) ?? null,
    onDoings: (doings: Doing[]) => setTried(chosen ? { of: chosen.id, doings } : null),
    choice: (
      <Choice
        label="Case"
        value={chosen?.name ?? ""}
        options={exercise.cases.map((item) => ({ value: item.name, label: item.name }))}
        onChange={(value) => address.set("case", value)}
      />
    ),
  };
}
