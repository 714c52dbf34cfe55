import { useBehaviours } from "../api/hooks";
import type { Rig } from "../api/generated";
import type { World } from "../api/world";
import { offered } from "../model/offered";
import { FIELD } from "./SetUp";

/** Who else is there: a behaviour of another device, and how messages go between the two. */
export function PartnerChoice({ rig, world, onWorld }: { rig: Rig; world: World; onWorld: (world: World) => void }) {
  const others = offered(useBehaviours().data ?? [], world.partner).filter((item) => item.rig !== rig.id);
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
          <Amount
            name="A message takes, in ms"
            width="w-16"
            least={1}
            most={10_000}
            value={Math.round(world.delay * 1e3)}
            unit="ms,"
            onValue={(value) => onWorld({ ...world, delay: value / 1e3 })}
          />
          <Amount
            name="Messages lost, in %"
            width="w-14"
            least={0}
            most={100}
            value={world.lost}
            unit="% lost"
            onValue={(value) => onWorld({ ...world, lost: value })}
          />
        </div>
      )}
    </>
  );
}

interface AmountProps {
  name: string;
  width: string;
  least: number;
  most: number;
  value: number;
  unit: string;
  onValue: (value: number) => void;
}

/** A number between two bounds, with its unit behind it. */
function Amount({ name, width, least, most, value, unit, onValue }: AmountProps) {
  return (
    <label className="flex items-center gap-1">
      <input
        type="number"
        min={least}
        max={most}
        className={`${FIELD} num ${width}`}
        aria-label={name}
        value={value}
        onChange={(event) => onValue(Math.min(Math.max(Number(event.target.value), least), most))}
      />
      {unit}
    </label>
  );
}
