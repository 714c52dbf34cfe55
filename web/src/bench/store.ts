import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";

/** The time axis of the bench: what part of it is seen, where the cursor is, and whether it plays. */
interface Axis {
  from: number;
  to: number;
  end: number;
  cursor: number;
  playing: boolean;
  speed: number;
  /** A stretch that is chosen, where one is. */
  selected: [number, number] | null;
  setEnd: (end: number) => void;
  look: (from: number, to: number) => void;
  zoom: (factor: number, around: number) => void;
  move: (cursor: number) => void;
  /** Shows the last `span` seconds of something that still goes on, with the cursor at its end. */
  follow: (end: number, span: number) => void;
  play: (playing: boolean) => void;
  setSpeed: (speed: number) => void;
  select: (selected: [number, number] | null) => void;
}

const LEAST_SPAN = 0.02;

function inside(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}

export const useAxis = create<Axis>((set, get) => ({
  from: 0,
  to: 1,
  end: 1,
  cursor: 0,
  playing: false,
  speed: 1,
  selected: null,
  setEnd: (end) => {
    if (end === get().end) return;
    set((axis) => ({ end, from: 0, to: end, cursor: Math.min(axis.cursor, end), selected: null }));
  },
  look: (from, to) => {
    const { end } = get();
    const span = inside(to - from, LEAST_SPAN, end);
    const start = inside(from, 0, end - span);
    set({ from: start, to: start + span });
  },
  zoom: (factor, around) => {
    const { from, to, look } = get();
    look(around - (around - from) * factor, around + (to - around) * factor);
  },
  move: (cursor) => {
    const { end, from, to, look } = get();
    const at = inside(cursor, 0, end);
    set({ cursor: at });
    if (at < from || at > to) look(at - (to - from) / 2, at + (to - from) / 2);
  },
  follow: (end, span) => set({ end, from: Math.max(0, end - span), to: Math.max(end, span), cursor: end, playing: false, selected: null }),
  play: (playing) => {
    const { cursor, end } = get();
    set({ playing, cursor: playing && cursor >= end ? 0 : cursor });
  },
  setSpeed: (speed) => set({ speed }),
  select: (selected) => {
    const { end } = get();
    const ends = selected?.map((at) => inside(at, 0, end)).sort((a, b) => a - b);
    set({ selected: ends && ends[1]! > ends[0]! ? [ends[0]!, ends[1]!] : null });
  },
}));

/** What part of the time axis is seen, in s; a cursor that moves is no change of it. */
export function useSpan(): { from: number; to: number; end: number } {
  return useAxis(useShallow(({ from, to, end }) => ({ from, to, end })));
}

/** Moves the cursor while playing. Runs outside React: no render a frame, and no frame while nothing plays. */
export function startClock(): () => void {
  let last = 0;
  let frame = 0;
  const tick = (now: number) => {
    const { playing, cursor, end, speed, move, play } = useAxis.getState();
    const next = cursor + ((now - last) / 1000) * speed;
    last = now;
    if (playing) move(next); // whoever is told of it finds a frame under way
    if (playing && next >= end) play(false);
    frame = useAxis.getState().playing ? requestAnimationFrame(tick) : 0;
  };
  const start = () => {
    if (frame || !useAxis.getState().playing) return;
    last = performance.now();
    frame = requestAnimationFrame(tick);
  };
  start();
  const stop = useAxis.subscribe(start);
  return () => {
    stop();
    cancelAnimationFrame(frame);
  };
}
