import type { RigSource } from "./source";

/** Which motors are the wheels, or that there are none. */
export function Wheels({ source, motors, onChange }: { source: RigSource; motors: string[]; onChange: (source: RigSource) => void }) {
  const set = (side: "left" | "right", name: string) => {
    const next = { ...source };
    if (!name) {
      delete next.drive;
      delete next["calibration"];
      return onChange(next);
    }
    const other = motors.find((motor) => motor !== name) ?? name;
    const drive = source.drive ?? { left: other, right: other, wheel_diameter: "6.5 cm", track_width: "14 cm" };
    onChange({ ...source, drive: { ...drive, [side]: name } });
  };
  return (
    <>
      {(["left", "right"] as const).map((side) => (
        <label key={side} className="flex items-center gap-2 text-[14px]">
          <span className="flex-1">{side} wheel</span>
          <select className="rounded border border-rule bg-sheet px-1.5 py-0.5" value={source.drive?.[side] ?? ""} onChange={(event) => set(side, event.target.value)}>
            <option value="">no wheels</option>
            {motors.map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </select>
        </label>
      ))}
    </>
  );
}
