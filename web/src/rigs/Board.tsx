import { Dial } from "../ui/Dial";
import { at, deg, isTurning, type PartSource, type RigSource } from "./source";

interface Props {
  source: RigSource;
  chosen: string | null;
  wrong: Set<string>;
  onChoose: (name: string) => void;
}

/** The parts of a rig without wheels that turn something: each as a dial with its limits, its switches and what it carries. */
export function Board({ source, chosen, wrong, onChoose }: Props) {
  const turning = Object.entries(source.parts).filter(([, part]) => isTurning(part.kind));
  if (!turning.length) return null;
  return (
    <div className="flex flex-wrap content-start gap-2 p-2" role="group" aria-label="What turns">
      {turning.map(([name, part]) => (
        <button
          key={name}
          type="button"
          className={`rounded border px-1 py-1 ${chosen === name ? "border-leaf bg-leaf-wash" : wrong.has(name) ? "border-clay" : "border-rule bg-sheet hover:bg-sunk"}`}
          aria-pressed={chosen === name}
          onClick={() => onChoose(name)}
        >
          <Dial name={wrong.has(name) ? `${name} !` : name} ends={endsOf(part)} power={part.kind === "motor"} unit="" angle={part.kind === "motor" ? 0 : null} command={null} switches={switchesOf(source, name)} below={saidOf(part)} />
        </button>
      ))}
    </div>
  );
}

function endsOf(part: PartSource): [number, number] | null {
  const stops = at(part, "physics.stops");
  if (Array.isArray(stops)) return [deg(stops[0], 0), deg(stops[1], 360)];
  if (part.kind === "motor") return null;
  return [deg(part["least"], part.kind === "servo" ? 0 : -36_000), deg(part["greatest"], part.kind === "servo" ? 180 : 36_000)];
}

function switchesOf(source: RigSource, motor: string) {
  return Object.entries(source.parts).flatMap(([name, part]) => {
    const closes = at(part, "physics.closes");
    if (at(part, "physics.on") !== motor || !Array.isArray(closes)) return [];
    const [from, to] = [deg(closes[0], 0), deg(closes[1], 0)];
    return [{ name, from, to, pressed: from <= 0 && to >= 0 }];
  });
}

/** What matters most about it, in few words. */
function saidOf(part: PartSource): string {
  const gear = at(part, "physics.gear");
  const load = at(part, "physics.load");
  return [part.port, typeof gear === "number" ? `gear ${gear}` : "", typeof load === "string" ? load : ""].filter(Boolean).join(", ");
}
