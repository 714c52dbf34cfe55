/** What became of what was typed. */
export type Saving =
  | { state: "saved" }
  | { state: "saving" }
  /** The server does not answer, or failed: it is tried again. */
  | { state: "failed"; error: unknown }
  /** The server does not take it as it is: nothing is sent until it is another. */
  | { state: "refused"; error: unknown }
  /** It was changed elsewhere in the meantime: both are kept until one is chosen. */
  | { state: "conflict"; field: string; mine: string; theirs: string };

/** The texts that somebody else may change too, each with the version that is kept of it. */
export type Versions = Record<string, string>;

/** Keeps a change that started from these versions; says which versions there are then. */
export type Send<Draft> = (change: Partial<Draft>, startedFrom: Versions) => Promise<Versions>;

/** What is not kept yet, and the versions that it started from. */
export interface Unsent<Draft> {
  change: Partial<Draft>;
  versions: Versions;
}

/** Where it is remembered when the page goes before the server has it. */
export interface Memory<Draft> {
  read: () => Unsent<Draft> | null;
  write: (unsent: Unsent<Draft> | null) => void;
}

const PAUSE = 600;
const RETRY = 5000;
const LONGEST_RETRY = 60_000;

interface Conflict {
  field: string;
  mine: unknown;
  theirs: unknown;
  version: string;
}

/**
 * Saves what is typed after each pause, one change at a time, so that none can overtake another.
 *
 * What did not get through is kept and tried again, less and less often. What is refused is kept and not repeated.
 * A text that was changed elsewhere is kept beside the other one until `keepMine` or `takeTheirs`. What is not kept
 * yet is in the `memory` too: it is sent when the same thing is opened again.
 */
export class Saver<Draft extends object> {
  /** What an earlier page did not get through. */
  readonly left: Partial<Draft>;
  private waiting: Partial<Draft> = {};
  private sending: Partial<Draft> | null = null;
  private retry = RETRY;
  private conflict: Conflict | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private listeners = new Set<() => void>();
  private saving: Saving = { state: "saved" };

  constructor(
    private readonly send: Send<Draft>,
    private versions: Versions = {},
    private readonly memory?: Memory<Draft>,
  ) {
    const unsent = memory?.read();
    this.left = unsent?.change ?? {};
    if (!unsent) return;
    this.waiting = unsent.change;
    this.versions = { ...versions, ...unsent.versions };
    this.saving = { state: "saving" };
    this.later(0);
  }

  readonly current = (): Saving => this.saving;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly save = (change: Partial<Draft>): void => {
    const { conflict } = this;
    if (conflict && conflict.field in change) {
      const { [conflict.field as keyof Draft]: mine, ...rest } = change;
      this.conflict = { ...conflict, mine };
      this.waiting = { ...this.waiting, ...(rest as Partial<Draft>) };
    } else {
      this.waiting = { ...this.waiting, ...change };
    }
    this.remember();
    if (this.conflict) this.tell();
    else this.set({ state: "saving" });
    this.later(PAUSE);
  };

  /** Sends what waits, now. Says whether there is anything that is not kept yet. */
  readonly flush = (): boolean => {
    clearTimeout(this.timer);
    const change = this.waiting;
    const fields = Object.keys(change);
    if (this.sending || !fields.length) return this.sending !== null || this.conflict !== null;
    this.waiting = {};
    this.sending = change;
    const startedFrom = Object.fromEntries(fields.filter((field) => field in this.versions).map((field) => [field, this.versions[field] ?? ""]));
    this.send(change, startedFrom).then(this.kept, (error: unknown) => this.notKept(change, error));
    return true;
  };

  /** When all that was typed is kept. Raises why it is not. */
  readonly settled = async (): Promise<void> => {
    this.flush();
    while (this.saving.state === "saving") {
      await new Promise<void>((go) => {
        const forget = this.subscribe(() => {
          forget();
          go();
        });
      });
    }
    if ("error" in this.saving) throw this.saving.error;
    if (this.saving.state === "conflict") throw new Error("There are two texts from one: choose one of them first.");
  };

  /** Puts what was typed here in the place of the other text. */
  readonly keepMine = (): void => {
    const { conflict } = this;
    if (!conflict) return;
    this.conflict = null;
    this.versions = { ...this.versions, [conflict.field]: conflict.version };
    this.save({ [conflict.field]: conflict.mine } as Partial<Draft>);
    this.flush();
  };

  /** Lets go of what was typed here; the other text. */
  readonly takeTheirs = (): Partial<Draft> => {
    const { conflict } = this;
    if (!conflict) return {};
    this.conflict = null;
    this.versions = { ...this.versions, [conflict.field]: conflict.version };
    this.remember();
    this.set(Object.keys(this.waiting).length ? { state: "saving" } : { state: "saved" });
    return { [conflict.field]: conflict.theirs } as Partial<Draft>;
  };

  private readonly kept = (versions: Versions): void => {
    this.sending = null;
    this.retry = RETRY;
    this.versions = { ...this.versions, ...versions };
    this.remember();
    if (Object.keys(this.waiting).length) this.later(0);
    else if (this.conflict) this.tell();
    else this.set({ state: "saved" });
  };

  private notKept(change: Partial<Draft>, error: unknown): void {
    this.sending = null;
    const found = conflictIn(error, change);
    if (found) {
      const { [found.field as keyof Draft]: mine, ...rest } = { ...change, ...this.waiting };
      this.waiting = rest as Partial<Draft>;
      this.conflict = { ...found, mine };
      this.tell();
      if (Object.keys(rest).length) this.later(0);
      return;
    }
    const typedOn = Object.keys(this.waiting).length > 0;
    this.waiting = { ...change, ...this.waiting };
    if (isRefused(error)) {
      this.set({ state: "refused", error });
      if (typedOn) this.later(PAUSE);
      return;
    }
    this.set({ state: "failed", error });
    this.later(this.retry);
    this.retry = Math.min(2 * this.retry, LONGEST_RETRY);
  }

  private remember(): void {
    const { conflict } = this;
    const change = { ...this.sending, ...this.waiting, ...(conflict && { [conflict.field]: conflict.mine }) } as Partial<Draft>;
    const fields = Object.keys(change);
    const versions = Object.fromEntries(fields.filter((field) => field in this.versions).map((field) => [field, this.versions[field] ?? ""]));
    this.memory?.write(fields.length ? { change, versions } : null);
  }

  private tell(): void {
    const { conflict } = this;
    if (conflict) this.set({ state: "conflict", field: conflict.field, mine: shown(conflict.mine), theirs: shown(conflict.theirs) });
  }

  private later(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(this.flush, milliseconds);
  }

  private set(saving: Saving): void {
    if (saving.state === "saving" && this.saving.state === "saving") return; // told at each move, it would be drawn at once
    this.saving = saving;
    this.listeners.forEach((listener) => listener());
  }
}

interface Told {
  status?: number;
  code?: string;
  more?: Record<string, unknown>;
}

/** What the server says of a text that was changed elsewhere; null for any other error. */
function conflictIn(error: unknown, change: object): Omit<Conflict, "mine"> | null {
  const { code, more } = error as Told;
  const field = more?.["field"];
  if (code !== "changed-elsewhere" || typeof field !== "string" || !(field in change)) return null;
  return { field, theirs: more?.["theirs"], version: String(more?.["version"]) };
}

/** Whether the same change would be refused again. */
function isRefused(error: unknown): boolean {
  const { status = 0 } = error as Told;
  return status >= 400 && status < 500 && status !== 408 && status !== 429;
}

function shown(value: unknown): string {
  return typeof value === "string" ? value : JSON.stringify(value, null, 2);
}
