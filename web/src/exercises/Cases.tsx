import { answer } from "../api/client";
import { useChange } from "../api/hooks";
import { casesCreate, casesDestroy, type Case, type Exercise, type Floor, type Rig, type Trace } from "../api/generated";
import { show } from "../model/numbers";
import { Trouble } from "../ui/Trouble";
import { CaseSetUp } from "./CaseSetUp";
import { offered } from "../model/offered";

/** The worlds that hand-ins are tried in. */
export function Cases({ exercise, rig, traces, floors }: { exercise: Exercise; rig: Rig; traces: Trace[]; floors: Floor[] }) {
  const add = useChange(
    (world: { trace: number } | { floor: number } | { lasts_us: number }) => {
      const name = "trace" in world ? traces.find((item) => item.id === world.trace)?.name : "floor" in world ? floors.find((item) => item.id === world.floor)?.name : "time";
      return answer(casesCreate({ body: { exercise: exercise.id, ...world, name: freeName(exercise, (name ?? "case").toLowerCase()) } }));
    },
    "exercise",
    "exercises",
    "sheet",
  );
  const remove = useChange((item: Case) => answer(casesDestroy({ path: { id: item.id } })), "exercise", "exercises", "sheet");
  const free = offered(traces).filter((trace) => !exercise.cases.some((item) => item.trace === trace.id));
  return (
    <section aria-label="Cases">
      <h2 className="font-bold">Cases</h2>
      <p className="text-[13px] text-soft">Each hand-in is run on every case.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {exercise.cases.map((item) => (
          <li key={item.id} className="flex items-center gap-1.5 py-0.5 pr-1.5 pl-3 text-[14px]">
            <span className="min-w-0 flex-1">
              <span className="block truncate">{item.name}</span>
              {item.broken && <span className="block text-[12px] text-clay">{item.broken}</span>}
            </span>
            <CaseSetUp item={item} rig={rig} traces={traces} floors={floors} />
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
        {!exercise.cases.length && <li className="px-3 py-1.5 text-[14px] text-soft">No case yet: add a trace or a floor.</li>}
      </ul>
      <select
          className="mt-1.5 w-full rounded border border-rule bg-sheet px-2 py-1 text-[14px]"
          aria-label="Add a trace or a floor as a case"
          value=""
          onChange={(event) => {
            const [kind, id] = event.target.value.split(" ");
            if (id) add.mutate(kind === "floor" ? { floor: Number(id) } : kind === "trace" ? { trace: Number(id) } : { lasts_us: Number(id) });
          }}
        >
          <option value="">Add a trace or a floor …</option>
          <option value="lasts 60000000">nothing but time, 60 s</option>
          <optgroup label="Floors">
            {offered(floors).map((floor) => (
              <option key={floor.id} value={`floor ${floor.id}`}>
                {floor.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Traces">
            {free.map((trace) => (
              <option key={trace.id} value={`trace ${trace.id}`}>
                {trace.name}
              </option>
            ))}
          </optgroup>
        </select>
      <Trouble error={add.error ?? remove.error} />
    </section>
  );
}

/** A name that no case has yet: one floor may be several cases, with other hands or another start. */
function freeName(exercise: Exercise, name: string): string {
  const taken = exercise.cases.map((item) => item.name);
  return Array.from({ length: 100 }, (_, index) => (index ? `${name} ${index + 1}` : name)).find((next) => !taken.includes(next)) ?? name;
}
