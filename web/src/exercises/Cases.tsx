import { api } from "../api/client";
import { useChange } from "../api/hooks";
import type { Case, Exercise, Trace } from "../api/types";
import { show } from "../model/numbers";
import { Trouble } from "../ui/Trouble";

/** The traces that hand-ins are tried on. */
export function Cases({ exercise, traces }: { exercise: Exercise; traces: Trace[] }) {
  const add = useChange(
    (trace: Trace) => api.post<Case>("cases", { exercise: exercise.id, trace: trace.id, name: trace.name.toLowerCase() }),
    "exercise",
    "exercises",
    "sheet",
  );
  const remove = useChange((item: Case) => api.remove(`cases/${item.id}`), "exercise", "exercises", "sheet");
  const free = traces.filter((trace) => !exercise.cases.some((item) => item.trace === trace.id));
  return (
    <section aria-label="Cases">
      <h2 className="font-bold">Cases</h2>
      <p className="text-[13px] text-soft">Each hand-in is run on every case.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {exercise.cases.map((item) => (
          <li key={item.id} className="flex items-center gap-2 px-3 py-1.5 text-[14px]">
            <span className="flex-1 truncate">{item.name}</span>
            <span className="num text-[13px] text-soft">{show((item.limit_us ?? item.duration_us) / 1e6, "s", 1)}</span>
            <button
              type="button"
              className="rounded px-1 text-soft hover:text-clay"
              aria-label={`Take out the case ${item.name}`}
              onClick={() => remove.mutate(item)}
            >
              ✕
            </button>
          </li>
        ))}
        {!exercise.cases.length && <li className="px-3 py-1.5 text-[14px] text-soft">No case yet: add a trace.</li>}
      </ul>
      {free.length > 0 && (
        <select
          className="mt-1.5 w-full rounded border border-rule bg-sheet px-2 py-1 text-[14px]"
          aria-label="Add a trace as a case"
          value=""
          onChange={(event) => {
            const trace = free.find((item) => item.id === Number(event.target.value));
            if (trace) add.mutate(trace);
          }}
        >
          <option value="">Add a trace as a case …</option>
          {free.map((trace) => (
            <option key={trace.id} value={trace.id}>
              {trace.name}
            </option>
          ))}
        </select>
      )}
      <Trouble error={add.error ?? remove.error} />
    </section>
  );
}
