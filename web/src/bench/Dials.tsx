import type { Lane, Rig, Run } from "../api/generated";
import { show } from "../model/numbers";
import { valueAt } from "../model/signals";
import { Dial } from "../ui/Dial";
import { useCursor } from "./useCursor";

interface Props {
  rig: Rig;
  run: Run | null;
  /** The parts that are shown; all that turn, and the lamps, where it is left out. */
  only?: string[];
}

/** What turns and is no wheel, as dials with their limits: the angle where the time cursor is, and what is commanded. */
export function Dials({ rig, run, only }: Props) {
  const cursor = useCursor();
  const turning = rig.parts.filter((part) => part.turns && (only?.includes(part.name) ?? true));
  const lamps = rig.parts.filter((part) => !only && part.role === "output" && !part.turns && part.kind !== "motor");
  const limits = rig.parts.filter((part) => part.contact && rig.shape.mounts[part.name]?.on);
  const at = (lanes: Lane[] | null | undefined, name: string) => {
    const lane = lanes?.find((item) => item.part === name);
    return lane ? valueAt(lane, cursor) : null;
  };
  return (
    <div className="flex flex-wrap content-start gap-x-1 gap-y-0.5" role="group" aria-label="Dials">
      {turning.map((part) => (
        <Dial
          key={part.name}
          name={part.name}
          ends={part.stops ? [part.stops[0] ?? 0, part.stops[1] ?? 0] : part.kind === "motor" ? null : [part.low ?? 0, part.high ?? 180]}
          power={part.kind === "motor"}
          unit={part.unit}
          angle={at(run?.turned, part.name) ?? at(run?.angles, part.name)}
          command={at(run?.outputs, part.name)}
          switches={limits.flatMap((limit) => {
            const closes = rig.shape.mounts[limit.name];
            return closes?.on === part.name ? [{ name: limit.name, from: closes.closes[0] ?? 0, to: closes.closes[1] ?? 0, pressed: at(run?.readings, limit.name) === 1 }] : [];
          })}
        />
      ))}
      {lamps.map((part) => {
        const level = at(run?.outputs, part.name) ?? 0;
        return (
          <figure key={part.name} className="w-[72px] text-center text-[12px] leading-tight" data-dial={part.name}>
            <svg width="72" height="64" aria-hidden="true">
              <circle cx="36" cy="34" r="17" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.4" />
              <circle cx="36" cy="34" r="12" fill="var(--ochre)" opacity={Math.max(0, Math.min(1, level / 100))} />
            </svg>
            <figcaption>
              <b>{part.name}</b>
              <br />
              <span className="num">{level ? show(level, part.unit, 0) : "off"}</span>
            </figcaption>
          </figure>
        );
      })}
    </div>
  );
}
