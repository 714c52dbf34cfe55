import { NumberField } from "../ui/NumberField";
import type { Plan } from "./plan";
import { PointFields } from "./ThingForm";

/** What belongs to the floor as a whole. */
export function FloorForm({ plan, onChange }: { plan: Plan; onChange: (plan: Plan) => void }) {
  const surface = plan.surface ?? {};
  const ground = (changes: Partial<typeof surface>) => onChange({ ...plan, surface: { ...surface, ...changes } });
  const rows = [
    ["travel_slip", "Slip, straight", 0],
    ["turn_slip", "Slip, turning", 0],
    ["rolling", "Rolling drag", 2],
  ] as const;
  return (
    <div className="space-y-1.5 text-[14px]">
      <PointFields word="Size" point={plan.size} onChange={(size) => onChange({ ...plan, size })} />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-[var(--leaf)]"
          checked={plan.edge !== "open"}
          onChange={(event) => onChange({ ...plan, edge: event.target.checked ? "wall" : "open" })}
        />
        a wall all round
      </label>
      <NumberField word="Light without lamps" label="Light without lamps" unit="lx" least={0} value={plan.ambient ?? 200} onChange={(ambient) => onChange({ ...plan, ambient })} />
      <NumberField word="Tone of the ground" label="Tone of the ground" unit="%" least={0} value={plan.tone ?? 90} onChange={(tone) => onChange({ ...plan, tone })} />
      <p className="pt-1 font-bold">The ground everywhere else</p>
      <label className="flex items-center gap-1.5">
        <span className="flex-1">Name</span>
        <input
          className="w-[150px] rounded border border-rule bg-sheet px-1.5 py-0.5"
          value={surface.name ?? "tiles"}
          maxLength={60}
          aria-label="Name of the ground"
          onChange={(event) => event.target.value.trim() && ground({ name: event.target.value })}
        />
      </label>
      {rows.map(([key, word, known]) => (
        <NumberField key={key} word={word} label={`${word} of the ground`} unit="%" least={0} value={surface[key] ?? known} onChange={(value) => ground({ [key]: value })} />
      ))}
    </div>
  );
}
