import { useBehaviours } from "../api/hooks";
import type { Rig } from "../api/generated";
import type { World } from "../api/world";
import { FIELD } from "./SetUp";

/** Who else is there: a behaviour of another device, and how messages go between the two. */
export function PartnerChoice({ rig, world, onWorld }: { rig: Rig; world: World; onWorld: (world: World) => void }) {
  const others = useBehaviours().data?.filter((item) => item.rig !== rig.id) ?? [];
  if (!others.length) return null;
  return (
    <>
      <label className="flex items-center gap-2">
        <span className="w-20 shrink-0">Together with</span>
        <select
          className={`${FIELD} min-w-0 flex-1`}
          value={world.partner ?? ""}
          onChange={(event) => onWorld({ ...world, partner: event.target.value ? Number(event.target.value) : null })}
        >
          <option value="">no other device</option>
          {others.map((item) => (
            <option key={item.id} value={item.id}>
              {item.title}
            </option>
          ))}
        </select>
      </label>
      {world.partner !== null && (
        <div className="flex items-center gap-2">
          <span className="w-20 shrink-0">Messages</span>
          <label className="flex items-center gap-1">
            <input
              type="number"
              min={1}
              max={10_000}
              className={`${FIELD} num w-16`}
              aria-label="A message takes, in ms"
              value={Math.round(world.delay * 1e3)}
              onChange={(event) => onWorld({ ...world, delay: Math.min(Math.max(Number(event.target.value), 1), 10_000) / 1e3 })}
            />
            ms,
          </label>
          <label className="flex items-center gap-1">
            <input
              type="number"
              min={0}
              max={100}
              className={`${FIELD} num w-14`}
              aria-label="Messages lost, in %"
              value={world.lost}
              onChange={(event) => onWorld({ ...world, lost: Math.min(Math.max(Number(event.target.value), 0), 100) })}
            />
            % lost
          </label>
        </div>
      )}
    </>
  );
}
