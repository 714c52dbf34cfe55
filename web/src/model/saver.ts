export type Saving = { state: "saved" } | { state: "saving" } | { state: "failed"; error: unknown };

const PAUSE = 600;
const RETRY = 5000;

/** Saves a text after each pause in typing. What could not be saved is kept and tried again. */
export class Saver {
  private waiting: string | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private listeners = new Set<() => void>();
  private saving: Saving = { state: "saved" };

  constructor(private readonly send: (text: string) => Promise<void>) {}

  readonly current = (): Saving => this.saving;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly save = (text: string): void => {
    this.waiting = text;
    this.set({ state: "saving" });
    this.later(PAUSE);
  };

  /** Sends what waits, now. Says whether there was anything. */
  readonly flush = (): boolean => {
    clearTimeout(this.timer);
    const text = this.waiting;
    if (text === null) return false;
    this.waiting = null;
    this.send(text).then(
      () => {
        if (this.waiting === null) this.set({ state: "saved" });
      },
      (error: unknown) => {
        this.waiting ??= text;
        this.set({ state: "failed", error });
        this.later(RETRY);
      },
    );
    return true;
  };

  private later(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(this.flush, milliseconds);
  }

  private set(saving: Saving): void {
    this.saving = saving;
    this.listeners.forEach((listener) => listener());
  }
}
