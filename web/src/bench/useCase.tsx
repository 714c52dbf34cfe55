import type { Exercise, Trace } from "../api/types";
import { Choice } from "../ui/Choice";
import { useAddress } from "./useAddress";

/** The case of an exercise that the address names, and the control to choose another. */
export function useCase(exercise: Exercise, traces: Trace[]) {
  const address = useAddress();
  const chosen = exercise.cases.find((item) => item.name === address.text("case")) ?? exercise.cases[0];
  return {
    trace: traces.find((item) => item.id === chosen?.trace) ?? null,
    limit: chosen?.limit_us ? chosen.limit_us / 1e6 : null,
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
