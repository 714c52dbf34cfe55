export interface Part {
  name: string;
  kind: string;
  role: "output" | "sensor";
  port: string;
  unit: string;
  contact: boolean;
  says: boolean;
  encoder: boolean;
  follows: "hand" | "place" | "motors";
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
  exclusive: string[][];
  shape: RigShape;
  updated: string;
  /** Why it cannot be read any more; null where it can. */
  broken: string | null;
}

/** Where a sensor sits, ahead and to the left of the middle of the axle: cm and deg. */
export interface Mount {
  ahead: number;
  left: number;
  facing: number | null;
  cone: number;
  spot: number;
  rail: [number, number];
}

/** The robot seen from above, in cm. Without an outline it is round. */
export interface RigShape {
  outline: [number, number][];
  radius: number;
  wheel_diameter: number | null;
  track_width: number | null;
  mounts: Record<string, Mount>;
}

export interface Floor {
  id: number;
  name: string;
  source: Record<string, unknown>;
  updated: string;
  version: string;
}

/** At an instant (s) a hand gives a channel a value in the part's unit, or lets go of it (null). */
export interface Doing {
  at: number;
  name: string;
  value: number | string | null;
}

export interface Inputs {
  id: number;
  rig: number;
  name: string;
  doings: Doing[];
  text: string;
  updated: string;
  broken: string | null;
}

/** What a program runs in: a trace or a floor, with what hands do there. `limit` is in s. */
export interface World {
  trace: number | null;
  /** What the readings of a trace follow. */
  follow: "time" | "travel";
  floor: number | null;
  start: string;
  doings: Doing[];
  seed: number | null;
  limit: number | null;
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
  world: Partial<World>;
  updated: string;
  version: string;
}

export interface Revision {
  id: number;
  text: string;
  saved: string;
  /** Whether it was not taken, because another text had been saved in the meantime. */
  apart: boolean;
}

export interface Case {
  id: number;
  exercise: number;
  name: string;
  trace: number | null;
  follow: "time" | "travel";
  floor: number | null;
  start: string;
  doings: Doing[];
  seed: number | null;
  limit_us: number | null;
  duration_us: number;
  broken: string | null;
}

export interface Exercise {
  id: number;
  title: string;
  brief: string;
  rig: number;
  reference: string;
  checks: string;
  over_cases: "mean" | "least" | "each";
  due: string | null;
  /** The share of the points that each day begun after it is due costs, 0 to 1. */
  late_per_day: number;
  late_at_most: number;
  /** Points are rounded to a multiple of it; 0 is not. */
  round_to: number;
  cases: Case[];
  hand_in_count: number;
  check_titles: { title: string; points: number; private: boolean }[];
  problems: { reference: Hint[]; checks: Hint[] };
  updated: string;
  /** The versions of its texts, for changes that start from them. */
  versions: Record<"brief" | "reference" | "checks", string>;
  broken: string | null;
}

export interface HandIn {
  id: number;
  exercise: number;
  student: string;
  /** Whether it is a real robot's run, and its text a recording. */
  recorded: boolean;
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
  where: [number, number] | null;
}

/** Where the robot was, and the things that were moved: s, cm and deg. */
export interface Ride {
  times: number[];
  x: number[];
  y: number[];
  heading: number[];
  things: Record<string, { x: (number | null)[]; y: (number | null)[] }>;
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
  readings: Lane[] | null;
  ride: Ride | null;
  /** Where servos and steppers really stood, on a floor. */
  angles: Lane[];
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
  world_problem: { message: string; remedy: string } | null;
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
  /** Why Geduld itself failed when it was last graded; that is no mark. Empty where it did not. */
  failure: string;
  received: string;
  earned: number;
  /** The points that count: those earned, less what being late costs, rounded. */
  points: number;
  late_days: number;
  /** How the points come from those earned; empty where they are the same. */
  because: string;
  of: number;
  marks: SheetMark[];
  /** The points that the teacher gave in place of Geduld's, by check. */
  given: Record<string, number>;
}

/** What the teacher gave for a check, and why; null points: taken back. */
export interface Override {
  check: string;
  points: number | null;
  reason: string;
  made: string;
  by: "teacher" | "geduld";
}

/** Long work on the server. */
export interface Job {
  state: "running" | "done" | "failed" | "cancelled";
  done: number;
  of: number;
  problem: string;
  /** Whether it was taken up again after Geduld had been stopped in the middle of it. */
  resumed: boolean;
}

export interface Sheet {
  exercise: number;
  title: string;
  rows: SheetRow[];
  job: Job | null;
}

/** A usual mistake, planted in the reference: `text` is the program with it. */
export interface Planted {
  kind: string;
  line: number;
  what: string;
  outcome: "caught" | "missed";
  caught_by: string[];
  points: number;
  also: number;
  text: string;
}

export interface Proof {
  found: {
    proves: boolean;
    score: number;
    sentence: string;
    hidden: { kind: string; line: number; what: string; text: string }[];
    left_out: { kind: string; line: number; what: string; why: string }[];
    no_place: string[];
    reference: { check: string; verdict: VerdictWord; points: number; of: number; margin: number | null; unit: string; because: string }[];
    mistakes: Planted[];
    rewrites: { what: string; text: string; lost: { check: string; because: string }[] }[];
  } | null;
  stale: boolean;
  job: Job | null;
}

export interface NotationWords {
  steps: string[];
  words: string[];
  functions: string[];
  units: string[];
  sentences: CheckSentence[];
}

/** A sentence that a check can say; `<…>` in it is filled from the rig and the floors, `needs` is without what it means nothing. */
export interface CheckSentence {
  label: string;
  detail: string;
  insert: string;
  needs: string;
}
