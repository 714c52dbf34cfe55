/** A rig's document, as its file has it. */
export interface PartSource {
  kind: string;
  port: string;
  physics?: Record<string, unknown>;
  [key: string]: unknown;
}

export interface RigSource {
  geduld: string;
  name: string;
  parts: Record<string, PartSource>;
  drive?: { left: string; right: string; wheel_diameter: string; track_width: string };
  body?: Record<string, unknown> & { outline?: [string, string][]; radius?: string };
  exclusive?: string[][];
  ports?: Record<string, string[]>;
  [key: string]: unknown;
}

const IN_CM: Record<string, number> = { cm: 1, mm: 0.1, m: 100, inch: 2.54 };

/** A length as text, such as `6.5 cm`, in cm; `otherwise` where it is none. */
export function cm(text: unknown, otherwise: number): number {
  const match = typeof text === "string" ? /^\s*(-?[0-9.]+)\s*(\w+)\s*$/.exec(text) : null;
  const factor = IN_CM[match?.[2] ?? ""];
  return match && factor ? Number(match[1]) * factor : otherwise;
}

/** An angle as text, in deg. */
export function deg(text: unknown, otherwise: number): number {
  const match = typeof text === "string" ? /^\s*(-?[0-9.]+)\s*(deg|rev)\s*$/.exec(text) : null;
  return match ? Number(match[1]) * (match[2] === "rev" ? 360 : 1) : otherwise;
}

/** What stands at a path with points, such as `physics.ahead`. */
export function at(table: Record<string, unknown>, path: string): unknown {
  return path.split(".").reduce<unknown>((inner, key) => (inner && typeof inner === "object" ? (inner as Record<string, unknown>)[key] : undefined), table);
}

/** The same table with something else at a path; without it where `value` is undefined, and without tables that are empty then. */
export function withAt<Table extends Record<string, unknown>>(table: Table, path: string, value: unknown): Table {
  const [key = "", ...rest] = path.split(".");
  const next: Record<string, unknown> = { ...table };
  const put = rest.length ? withAt((table[key] as Record<string, unknown> | undefined) ?? {}, rest.join("."), value) : value;
  if (put === undefined || (rest.length > 0 && Object.keys(put as object).length === 0)) delete next[key];
  else next[key] = put;
  return next as Table;
}

/** A name that no part has yet, from a word. */
export function freeName(source: RigSource, word: string): string {
  let name = word;
  for (let number = 2; name in source.parts; number++) name = `${word}${number}`;
  return name;
}

/** A port that nothing hangs on: one of the controller's that can carry the kind, or a new one. */
export function freePort(source: RigSource, kind: string): string {
  const taken = new Set(Object.values(source.parts).map((part) => part.port));
  const listed = Object.entries(source.ports ?? {}).find(([port, kinds]) => !taken.has(port) && (!kinds.length || kinds.includes(kind)));
  if (listed) return listed[0];
  const letter = { motor: "M", servo: "S", stepper: "S", lamp: "L", buzzer: "B", bump: "D", key: "K", radio: "R" }[kind] ?? "A";
  for (let number = 1; ; number++) if (!taken.has(`${letter}${number}`)) return `${letter}${number}`;
}

/** Whether a kind turns something through an angle, so that a dial shows it. */
export function isTurning(kind: string): boolean {
  return ["motor", "servo", "stepper"].includes(kind);
}
