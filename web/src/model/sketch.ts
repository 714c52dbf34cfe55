import type { Part } from "../api/generated";

export interface Channel {
  points: [string, string | number][];
  shape?: "line" | "step" | "smooth";
  noise?: string;
  missed?: string;
  bounce?: string;
}

/** The points and the seed that a trace is drawn from, as their document has them. */
export interface Sketch {
  geduld: "sketch/1";
  lasts: string;
  rate: string;
  seed: number;
  channels: Record<string, Channel>;
}

/** The number in a text such as `12.5 cm`. */
export function numberOf(text: string): number {
  return Number(/-?[0-9.]+/.exec(text)?.[0] ?? 0);
}

/** A value in a part's unit, as a document has it. */
export function withUnitOf(part: Part, value: number): string | number {
  const rounded = Math.round(value * 100) / 100;
  return part.unit ? `${rounded} ${part.unit}` : rounded;
}

/** A drawing to start from: an approach, where the rig can see one, and a contact that closes at its end. */
export function firstSketch(parts: Part[]): Sketch {
  const sensors = parts.filter((part) => part.role === "sensor" && !part.says);
  const seen = sensors.find((part) => part.kind === "range") ?? sensors.find((part) => !part.contact);
  const contact = sensors.find((part) => part.contact);
  const channels: Record<string, Channel> = {};
  if (seen) channels[seen.name] = { points: [["0 s", withUnitOf(seen, (seen.high ?? 100) * 0.8)], ["8 s", withUnitOf(seen, (seen.high ?? 100) * 0.05)]] };
  if (contact) channels[contact.name] = { points: [["0 s", 0], ["8.2 s", 1]] };
  return { geduld: "sketch/1", lasts: "10 s", rate: "50 Hz", seed: 1, channels };
}
