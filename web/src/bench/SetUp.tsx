import { useInputs } from "../api/hooks";
import type { Floor, Rig } from "../api/generated";
import type { World } from "../api/world";
import { isWorktop, planOf } from "../floors/plan";
import { Faults } from "./Faults";
import { PartnerChoice } from "./PartnerChoice";

const OWN = "own";
export const FIELD = "rounded border border-rule bg-sheet px-1.5 py-1 text-[14px] text-ink";

/** How a world starts and what goes on in it: start, noise, what readings follow, how long, and what hands do. */
export function SetUp({ rig, floor, world, onWorld }: { rig: Rig; floor: Floor | null; world: World; onWorld: (world: World) => void }) {
  const inputs = useInputs().data?.filter((item) => item.rig === rig.id) ?? [];
  const marks = floor ? planOf(floor.source).marks.flatMap((mark) => (mark.name ? [mark.name] : [])) : [];
  const kept = (id: string) => inputs.find((item) => String(item.id) === id);
  const same = inputs.find((item) => JSON.stringify(item.doings) === JSON.stringify(world.doings));
  const chosen = !world.doings.length ? "" : same ? String(same.id) : OWN;
  return (
    <>
      {floor && (
        <>
          {!isWorktop(floor.source) && <label className="flex items-center gap-2">
            <span className="w-20 shrink-0">Start at</span>
            <select className={`${FIELD} flex-1`} value={world.start} onChange={(event) => onWorld({ ...world, start: event.target.value })}>
              <option value="">the floor's start</option>
              {marks.map((name) => (
                <option key={name} value={name}>
                  mark {name}
                </option>
              ))}
            </select>
          </label>}
          <label className="flex items-center gap-2">
            <span className="w-20 shrink-0">Noise</span>
            <input
              type="checkbox"
              className="size-4 accent-[var(--leaf)]"
              checked={world.seed !== null}
              onChange={(event) => onWorld({ ...world, seed: event.target.checked ? 1 : null })}
            />
            <span className="text-[13px] text-soft">sensors tremble, contacts bounce</span>
          </label>
          {world.seed !== null && (
            <label className="flex items-center gap-2">
              <span className="w-20 shrink-0">Seed</span>
              <input
                type="number"
                min={0}
                max={999_999}
                className={`${FIELD} num w-24`}
                value={world.seed}
                onChange={(event) => onWorld({ ...world, seed: Math.max(0, Math.round(Number(event.target.value))) })}
              />
              <span className="text-[13px] text-soft">the same seed, the same noise</span>
            </label>
          )}
        </>
      )}
      {floor && <Faults rig={rig} faults={world.faults} onFaults={(faults) => onWorld({ ...world, faults })} />}
      <PartnerChoice rig={rig} world={world} onWorld={onWorld} />
      {!floor && world.lasts === null && (
        <label className="flex items-center gap-2">
          <span className="w-20 shrink-0">Readings</span>
          <select className={`${FIELD} min-w-0 flex-1`} value={world.follow} onChange={(event) => onWorld({ ...world, follow: event.target.value === "travel" ? "travel" : "time" })}>
            <option value="time">follow the time</option>
            <option value="travel">of the place follow the travel</option>
          </select>
        </label>
      )}
      <label className="flex items-center gap-2">
        <span className="w-20 shrink-0">Lasts</span>
        <input
          type="number"
          min={1}
          max={600}
          className={`${FIELD} num w-28`}
          value={world.lasts ?? world.limit ?? (floor ? 60 : "")}
          placeholder="all of it"
          onChange={(event) => {
            const seconds = Number(event.target.value);
            const wanted = seconds > 0 ? Math.min(seconds, 600) : null;
            onWorld(world.lasts === null ? { ...world, limit: wanted } : { ...world, lasts: wanted ?? 60 });
          }}
        />
        <span>s</span>
      </label>
      {(inputs.length > 0 || world.doings.length > 0) && (
        <label className="flex items-center gap-2">
          <span className="w-20 shrink-0">Inputs</span>
          <select className={`${FIELD} min-w-0 flex-1`} value={chosen} onChange={(event) => onWorld({ ...world, doings: kept(event.target.value)?.doings ?? [] })}>
            <option value="">nothing is done by hand</option>
            {chosen === OWN && <option value={OWN}>as done here: {world.doings.length}</option>}
            {inputs.map((item) => (
              <option key={item.id} value={item.id}>
                {item.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  );
}
