export interface Part {
  name: string;
  kind: string;
  role: "output" | "sensor";
  port: string;
  unit: string;
  contact: boolean;
  says: boolean;
  encoder: boolean;
  low: number | null;
  high: number | null;
}

export interface Rig {
  id: number;
  name: string;
  source: unknown;
  parts: Part[];
  properties: Part[];
  libraries: string[];
  has_drive: boolean;
  drive_is_measured: boolean;
  drive_is_timed: boolean;
  updated: string;
}

export interface Trace {
  id: number;
  rig: number;
  name: string;
  channels: string[];
  samples: number;
  duration_us: number;
  updated: string;
}

export interface Behaviour {
  id: number;
  rig: number;
  title: string;
  text: string;
  updated: string;
}

export interface Revision {
  id: number;
  text: string;
  saved: string;
}

export interface Case {
  id: number;
  exercise: number;
  name: string;
  trace: number;
  limit_us: number | null;
  duration_us: number;
}

export interface Exercise {
  id: number;
  title: string;
  brief: string;
  rig: number;
  reference: string;
  checks: string;
  over_cases: "mean" | "least";
  cases: Case[];
  hand_in_count: number;
  check_titles: { title: string; points: number }[];
  problems: { reference: Hint[]; checks: Hint[] };
  updated: string;
}

export interface HandIn {
  id: number;
  exercise: number;
  student: string;
  received: string;
  text: string;
}

export interface Hint {
  code: string;
  level: "error" | "warning" | "advice";
  line: number;
  column: number;
  end_line: number;
  end_column: number;
  message: string;
  remedy: string;
  fix: string | null;
}

/** A signal that holds each value until the next time. Times in seconds, values in the part's unit. */
export interface Lane {
  part: string;
  times: number[];
  values: (number | null)[];
  /** The messages of a radio, in place of values. */
  texts?: (string | null)[];
}

export interface Lanes {
  from: number;
  to: number;
  lanes: Lane[];
}

export interface Threshold {
  part: string;
  value: number;
  unit: string;
  per_part_unit: number;
  line: number;
  column: number;
  end_column: number;
}

export interface Bar {
  line: number;
  from: number;
  to: number;
  state: "waiting" | "looping";
  lane: string;
}

export interface RunEvent {
  at: number;
  kind: string;
  line: number;
  text: string;
}

export interface Run {
  ended_at: number;
  lasted: number;
  why: string;
  said: string;
  outputs: Lane[];
  program: Bar[];
  program_cut: boolean;
  events: RunEvent[];
  controls: Record<string, [number, "power" | "speed" | "brake" | "coast"][]>;
  trust: Record<string, number>;
}

export type VerdictWord = "pass" | "part" | "fail" | "not exercised" | "not certain";

export interface Verdict {
  title: string;
  verdict: VerdictWord;
  points: number;
  of: number;
  margin: number | null;
  unit: string;
  at: number | null;
  because: string;
  windows: { from: number; to: number; verdict: VerdictWord }[];
}

export interface BenchAnswer {
  hints: Hint[];
  thresholds: Threshold[];
  run: Run | null;
  reference: Lane[] | null;
  checks: Verdict[];
  check_hints: Hint[];
}

export interface SheetMark {
  check: string;
  case: string;
  verdict: VerdictWord;
  points: number;
  of: number;
  margin: number | null;
  unit: string;
  at: number | null;
  because: string;
}

export interface SheetRow {
  hand_in: number;
  student: string;
  graded: boolean;
  stale: boolean;
  problem: string;
  points: number;
  of: number;
  marks: SheetMark[];
}

export interface Sheet {
  exercise: number;
  title: string;
  rows: SheetRow[];
}

export interface NotationWords {
  steps: string[];
  words: string[];
  functions: string[];
  units: string[];
}
