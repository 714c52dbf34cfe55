import type { Rig } from "../api/generated";

/** The faults that a robot of this rig may have, as phrases: each with a number to begin with. */
export function faultsOf(rig: Rig): string[] {
  const motors = rig.parts.filter((part) => part.kind === "motor").map((part) => part.name);
  const sensors = rig.parts.filter((part) => part.role === "sensor" && !part.says);
  const [first, second] = motors;
  return [
    ...motors.map((name) => `${name} wired round`),
    ...(first && second ? [`${first} and ${second} swapped`] : []),
    ...motors.map((name) => `${name} jammed`),
    "battery at 60 %",
    ...sensors.filter((part) => part.contact).map((part) => `${part.name} inverted`),
    ...sensors.map((part) => `${part.name} loose 20 %`),
    ...sensors.filter((part) => !part.contact && part.follows === "place").map((part) => `${part.name} knocked by 30 deg`),
  ];
}
