import type { Kind } from "../api/generated";
import { isTurning, type RigSource } from "./source";

/** The parts that have no place on the drawing, each with its port. */
export function Elsewhere({ source, kinds, chosen, wrong, onChoose }: { source: RigSource; kinds: Map<string, Kind>; chosen: string | null; wrong: Set<string>; onChoose: (name: string) => void }) {
  const wheels = source.drive ? [source.drive.left, source.drive.right] : [];
  // without wheels what turns stands on the board above
  const onBoard = (kind: string) => !source.drive && isTurning(kind);
  const names = Object.entries(source.parts).filter(([name, item]) => !kinds.get(item.kind)?.placed && !wheels.includes(name) && !onBoard(item.kind));
  if (!names.length) return null;
  return (
    <div className="absolute bottom-8 left-3 flex max-w-[62%] flex-wrap gap-1.5" role="group" aria-label="Parts that sit anywhere">
      {names.map(([name, item]) => (
        <button
          key={name}
          type="button"
          className={`rounded border bg-paper px-1.5 text-[13px] ${chosen === name ? "border-leaf font-bold" : wrong.has(name) ? "border-clay text-clay" : "border-rule"}`}
          aria-pressed={chosen === name}
          onClick={() => onChoose(name)}
        >
          {name} <span className="num text-[12px] text-soft">{item.port}</span>
          {wrong.has(name) && " !"}
        </button>
      ))}
    </div>
  );
}
