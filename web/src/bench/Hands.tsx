import { type FormEvent, type ReactNode, useEffect, useRef, useState } from "react";

import type { Doing, Part, Rig } from "../api/generated";
import { heldAt, touched } from "../model/hands";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { TiltPad } from "./TiltPad";
import { useAxis } from "./store";

interface Props {
  rig: Rig;
  doings: Doing[];
  /** The sensors that the program names. */
  named: Set<string>;
  onDo: (...doings: Doing[]) => void;
  onUndo?: () => void;
  onClear: () => void;
  /** Holds a hand in front of the robot; undefined where there is no floor. */
  onHand?: () => void;
  onKeep: () => void;
}

/** The rig's knobs, keys, tilt and messages as real controls: what is done with them happens at the time cursor. */
export function Hands({ rig, doings, named, onDo, onUndo, onClear, onHand, onKeep }: Props) {
  const [all, setAll] = useState(false);
  const cursor = useCursor();
  const hands = rig.parts.filter((part) => part.role === "sensor" && (part.follows === "hand" || part.contact || part.axes.length > 0) && part.follows !== "motors");
  const bases = new Set([...named, ...touched(doings)].map((name) => name.split(".")[0]));
  const used = hands.filter((part) => bases.has(part.name));
  const shown = all || !used.length ? hands : used;
  const does: Does = (name, value, at = useAxis.getState().cursor) => onDo({ at, name, value });
  const held = (name: string) => heldAt(doings, name, cursor);
  return (
    <section className="flex w-[208px] shrink-0 flex-col overflow-y-auto border-l border-rule px-3 py-2 text-[13px]" aria-label="Hands">
      <div className="flex items-center gap-2">
        <h2 className="flex-1 font-bold">Hands</h2>
        <Button small className="border-clay text-clay" onClick={() => does("stop", 1)} title="Stops the program, motors, lamps and sounds from here on">
          Stop everything
        </Button>
      </div>
      <div className="mt-1 divide-y divide-rule">
        {shown.map((part) => (
          <Row key={part.name} part={part} held={touched(doings).some((name) => name.split(".")[0] === part.name)} onLetGo={() => letGo(part, doings, onDo)}>
            <Control part={part} rig={rig} held={held} does={does} />
          </Row>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {onHand && (
          <Button small onClick={onHand} title="Holds a hand in front of the range sensor; drag it on the floor">
            Hold a hand
          </Button>
        )}
        {held("hand.x") !== undefined && (
          <Button small onClick={() => onDo({ at: cursor, name: "hand.x", value: null }, { at: cursor, name: "hand.y", value: null })}>
            Take it away
          </Button>
        )}
        {used.length > 0 && used.length < hands.length && (
          <Button small aria-pressed={all} onClick={() => setAll(!all)}>
            {all ? "Only what is used" : `${hands.length - used.length} more`}
          </Button>
        )}
        {onUndo && (
          <Button small onClick={onUndo}>
            Undo
          </Button>
        )}
        {doings.length > 0 && (
          <Button small onClick={onClear}>
            Clear
          </Button>
        )}
        <Button small onClick={onKeep}>
          Keep …
        </Button>
      </div>
    </section>
  );
}

/** The time under the cursor, looked at ten times a second: enough for controls. */
function useCursor(): number {
  const [cursor, setCursor] = useState(useAxis.getState().cursor);
  useEffect(() => {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let last = -Infinity;
    const take = () => {
      waiting = undefined;
      last = performance.now();
      setCursor(useAxis.getState().cursor);
    };
    const forget = useAxis.subscribe(() => {
      waiting ??= setTimeout(take, Math.max(0, last + 100 - performance.now()));
    });
    return () => {
      forget();
      clearTimeout(waiting);
    };
  }, []);
  return cursor;
}

function letGo(part: Part, doings: Doing[], onDo: (...doings: Doing[]) => void): void {
  const at = useAxis.getState().cursor;
  const names = touched(doings).filter((name) => name.split(".")[0] === part.name);
  onDo(...names.map((name) => ({ at, name, value: null })));
}

function Row({ part, held, onLetGo, children }: { part: Part; held: boolean; onLetGo: () => void; children: ReactNode }) {
  return (
    <div className="py-1.5" data-hand={part.name}>
      <div className="flex items-baseline gap-2">
        <span className="flex-1 font-bold">{part.name}</span>
        {held && (
          <button type="button" className="min-h-[26px] px-1 text-soft underline underline-offset-2 hover:text-ink" onClick={onLetGo} aria-label={`let go of ${part.name}`}>
            let go
          </button>
        )}
      </div>
      {children}
    </div>
  );
}

interface ControlProps {
  part: Part;
  rig: Rig;
  held: (name: string) => number | string | undefined;
  does: Does;
}

type Does = (name: string, value: Doing["value"], at?: number) => void;

/** A press while the time stands still lasts so long, in s. */
const SHORT_PRESS = 0.2;

function Control({ part, rig, held, does }: ControlProps) {
  if (part.says) return <Message part={part} does={does} />;
  if (part.keys.length) return <Keys part={part} rig={rig} held={held} does={does} />;
  if (part.axes.length) {
    const leans = part.unit === "%";
    return <TiltPad held={held} does={does} name={part.name} most={leans ? 100 : 45} unit={part.unit} says={leans ? ["ahead", "to the right"] : ["nose down", "right side down"]} springs={leans} />;
  }
  if (part.contact) return <Press name={part.name} rig={rig} held={held} does={does} />;
  const value = held(part.name);
  const low = part.low ?? 0;
  const high = part.high ?? 100;
  return (
    <label className="flex items-center gap-2">
      <input
        type="range"
        className="min-w-0 flex-1 accent-[var(--leaf)]"
        min={low}
        max={high}
        step={(high - low) / 200}
        value={typeof value === "number" ? value : low}
        aria-label={`${part.name}, in ${part.unit}`}
        onChange={(event) => does(part.name, Number(event.target.value))}
      />
      <span className="num min-w-14 text-right whitespace-nowrap">{typeof value === "number" ? show(value, part.unit, 0) : "untouched"}</span>
    </label>
  );
}

/** A key or switch: pressed while it is held down, or by Space; of an exclusive group only one can be read. */
function Press({ name, word, rig, held, does }: Omit<ControlProps, "part"> & { name: string; word?: string }) {
  const group = rig.exclusive.find((names) => names.includes(name)) ?? [];
  const others = group.filter((other) => other !== name);
  const pressed = held(name) === 1;
  const blocked = others.find((other) => held(other) === 1);
  const since = useRef(0);
  const press = () => {
    since.current = useAxis.getState().cursor;
    does(name, 1);
  };
  const release = () => {
    const now = useAxis.getState().cursor;
    does(name, 0, now > since.current ? now : since.current + SHORT_PRESS);
  };
  return (
    <>
      <button
        type="button"
        className={`w-full touch-none rounded border px-2 py-1 select-none ${pressed ? "border-leaf bg-leaf-wash" : "border-rule bg-sheet hover:bg-sunk"} disabled:opacity-60`}
        aria-pressed={pressed}
        disabled={blocked !== undefined && !pressed}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          press();
        }}
        onPointerUp={release}
        onPointerCancel={release}
        onClick={(event) => event.detail === 0 && (pressed ? release() : press())}
      >
        {word ?? (pressed ? "pressed" : "press")}
      </button>
      {blocked && <p className="text-soft">The hardware reads either this or {blocked}.</p>}
    </>
  );
}

/** The keys of a remote control, channel by channel. */
function Keys({ part, rig, held, does }: ControlProps) {
  return (
    <div className="grid grid-cols-3 gap-1" role="group" aria-label={`Keys of ${part.name}`}>
      {part.keys.map((key) => (
        <Press key={key} name={`${part.name}.${key}`} word={key.replace(/_(\d)$/, " $1")} rig={rig} held={held} does={does} />
      ))}
    </div>
  );
}

function Message({ part, does }: { part: Part; does: ControlProps["does"] }) {
  const [text, setText] = useState("");
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim()) does(part.name, text.trim());
  };
  return (
    <form className="flex gap-1.5" onSubmit={send}>
      <input
        className="min-w-0 flex-1 rounded border border-rule bg-sheet px-1.5 py-1"
        value={text}
        maxLength={100}
        placeholder="a message"
        aria-label={`Message to ${part.name}`}
        onChange={(event) => setText(event.target.value)}
      />
      <Button small type="submit">
        Send
      </Button>
    </form>
  );
}
