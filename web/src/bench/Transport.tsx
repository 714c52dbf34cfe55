import { type FormEvent, memo, useEffect, useRef, useState } from "react";

import { showSeconds } from "../model/numbers";
import { Button } from "../ui/Button";
import { useAxis } from "./store";

const SPEEDS = [0.25, 1, 10];

/** Play and pause, the time, the speed, and what part of the run is seen. */
export const Transport = memo(function Transport({ onStep }: { onStep: (direction: 1 | -1) => void }) {
  const { playing, speed, end, play, setSpeed, zoom, look, cursor } = useAxis();
  const time = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const write = () => {
      if (time.current) time.current.textContent = showSeconds(useAxis.getState().cursor, 0.01);
    };
    write();
    return useAxis.subscribe(write);
  }, []);
  return (
    <div className="flex flex-wrap items-center gap-1">
      <Button small onClick={() => onStep(-1)} title="One event back (,)" aria-label="One event back">
        <Arrow back />
      </Button>
      <Button small active={playing} onClick={() => play(!playing)} title="Space" aria-keyshortcuts="Space">
        {playing ? "Pause" : "Play"}
      </Button>
      <Button small onClick={() => onStep(1)} title="One event on (.)" aria-label="One event on">
        <Arrow />
      </Button>
      <label className="flex items-center gap-1 text-[13px] text-soft">
        <span className="sr-only">Speed of playing</span>
        <select
          className="w-[84px] rounded border border-rule bg-sheet px-1 py-1 text-ink"
          value={speed}
          onChange={(event) => setSpeed(Number(event.target.value))}
        >
          {SPEEDS.map((option) => (
            <option key={option} value={option}>
              {option === 0.25 ? "quarter speed" : option === 1 ? "real time" : "10 times"}
            </option>
          ))}
        </select>
      </label>
      <span className="num ml-1 min-w-[9.5em] whitespace-nowrap text-[14px]" data-time="">
        <span ref={time}>{showSeconds(cursor, 0.01)}</span>
        <span className="text-soft"> of {showSeconds(end, 0.01)} s</span>
      </span>
      <GoTo />
      <Button small onClick={() => zoom(0.5, useAxis.getState().cursor)} title="Zoom in (+)" aria-label="Zoom in">
        +
      </Button>
      <Button small onClick={() => zoom(2, useAxis.getState().cursor)} title="Zoom out (-)" aria-label="Zoom out">
        −
      </Button>
      <Button small onClick={() => look(0, end)} title="See the whole run (0)">
        Whole run
      </Button>
    </div>
  );
});

/** An instant to go to, by typing it. */
function GoTo() {
  const [typed, setTyped] = useState("");
  const seconds = Number(typed.replace(",", ".").replace(/\s*s$/, ""));
  const go = (event: FormEvent) => {
    event.preventDefault();
    if (typed.trim() === "" || !Number.isFinite(seconds)) return;
    useAxis.getState().play(false);
    useAxis.getState().move(seconds);
    setTyped("");
  };
  return (
    <form onSubmit={go}>
      <input
        className="num w-[4.9em] rounded border border-rule bg-sheet px-1.5 py-1 text-[13px]"
        value={typed}
        placeholder="go to"
        aria-label="Go to an instant, in s"
        inputMode="decimal"
        onChange={(event) => setTyped(event.target.value)}
      />
    </form>
  );
}

function Arrow({ back = false }: { back?: boolean }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" style={back ? { transform: "scaleX(-1)" } : undefined}>
      <path d="M2 7h8M7 3.5 10.5 7 7 10.5M12.6 2v10" stroke="currentColor" strokeWidth="1.6" fill="none" />
    </svg>
  );
}
