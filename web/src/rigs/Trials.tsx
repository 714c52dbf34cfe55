import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { type Live, rigsPractiseCreate, type Practised } from "../api/generated";
import { useLive } from "../live/useLive";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Trouble } from "../ui/Trouble";
import { at, cm, type RigSource, withAt } from "./source";

interface Props {
  rig: number;
  source: RigSource;
  onChange: (source: RigSource, gesture: string) => void;
}

const POWER = 40; // % of the pair test
const BELOW = 5; // deg: less than this is no turning

/** What a channel says now, where something comes live; null where it does not. */
function nowOf(live: Live | undefined, name: string): number | null {
  const reading = live?.connected ? live.readings.find((item) => item.name === name) : undefined;
  return reading?.value ?? null;
}

/** A motor's angle since it was set to nothing, where it comes live. */
function useTurned(rig: number, names: string[]): { turned: (number | null)[]; reset: () => void; comes: boolean } {
  const live = useLive(rig).data;
  const [zero, setZero] = useState<Record<string, number>>({});
  const angles = names.map((name) => nowOf(live, `${name}.angle`));
  const turned = angles.map((angle, index) => (angle === null ? null : angle - (zero[names[index] ?? ""] ?? angle)));
  return { turned, comes: angles.some((angle) => angle !== null), reset: () => setZero(Object.fromEntries(names.map((name, index) => [name, angles[index] ?? 0]))) };
}

function percent(text: unknown, otherwise: number): number {
  const match = typeof text === "string" ? /^\s*([0-9.]+)\s*%\s*$/.exec(text) : null;
  return match ? Number(match[1]) : otherwise;
}

function Trial({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="space-y-1 border-t border-rule pt-1.5 text-[14px]" aria-label={title}>
      <h3 className="font-bold">{title}</h3>
      {children}
    </section>
  );
}

/** One motor alone: which way it turned sets its direction. Nothing is sent to the robot; its own program makes the move. */
export function SpinTest({ rig, name, source, onChange }: Props & { name: string }) {
  const [said, setSaid] = useState("");
  const [seen, setSeen] = useState<Practised | null>(null);
  const practise = useMutation({ mutationFn: () => answer(rigsPractiseCreate({ path: { id: rig }, body: { motor: name } })), onSuccess: (tried) => { setSeen(tried); setSaid(""); } });
  const live = useTurned(rig, [name]);
  const part = source.parts[name];
  if (!part) return null;
  const reversed = at(part, "reversed") === true;
  const side = source.drive?.left === name || source.drive?.right === name;
  const counted = live.turned[0] ?? null;
  const answerWith = (way: "forward" | "backward" | "still") => {
    if (seen) {
      const was = Math.abs(seen.turned ?? 0) < BELOW ? "still" : seen.wired_round ? "backward" : "forward";
      setSaid(was === way ? (seen.wired_round ? "Right: this one was wired round, so on a real robot it would be set to turned round." : "Right: this one was wired as it should be.") : `Look again: it turned ${was === "still" ? "not at all" : was}.`);
      return;
    }
    if (way === "forward") setSaid(`${name} is as it should be${reversed ? ": turned round" : ""}.`);
    else if (way === "still") setSaid(`Nothing moved: look whether it is plugged into port ${part.port}, and whether 30 % is more than its dead zone.`);
    else {
      onChange({ ...source, parts: { ...source.parts, [name]: withAt(part, "reversed", reversed ? undefined : true) } }, `spin ${name}`);
      setSaid(`${name} counts as ${reversed ? "not turned round" : "turned round"} now: forward is forward. Try it again.`);
    }
  };
  return (
    <Trial title="Spin test">
      {seen ? (
        <p>
          A made-up robot did <code className="num text-[13px]">{name} at {seen.power} % for 1 s</code>. <Wheel turned={seen.turned ?? 0} /> Forward is clockwise here. It turned:
        </p>
      ) : (
        <p>
          Let the robot do <code className="num text-[13px]">{name} at 30 % for 1 s</code>, its wheels off the ground. {side ? "Forward is the way that drives the robot ahead." : "Forward is the way that you call so."} It turned:
        </p>
      )}
      <span className="flex flex-wrap gap-1.5">
        <Button small onClick={() => answerWith("forward")}>
          forward
        </Button>
        <Button small onClick={() => answerWith("backward")}>
          backward
        </Button>
        <Button small onClick={() => answerWith("still")}>
          not at all
        </Button>
        <Practising goesOn={practise.isPending} seen={seen !== null} onPractise={() => practise.mutate()} onRobot={() => { setSeen(null); setSaid(""); }} />
      </span>
      {!seen && live.comes && (
        <p data-counted={name}>
          Its encoder counted <b className="num">{show(counted ?? 0, "deg", 0)}</b>{" "}
          <button type="button" className="text-leaf underline" onClick={live.reset}>
            from here
          </button>
          {counted !== null && Math.abs(counted) >= BELOW && `: ${counted > 0 ? "forwards" : "backwards"}. If you saw the other way, the encoder's plug is turned round, and not the motor's.`}
        </p>
      )}
      <Trouble error={practise.error} />
      {said && <p role="status">{said}</p>}
    </Trial>
  );
}

/** A wheel that turned: an arrow round it, in its direction. */
function Wheel({ turned }: { turned: number }) {
  const still = Math.abs(turned) < BELOW;
  const way = turned > 0 ? 1 : -1;
  return (
    <svg width="54" height="54" viewBox="-27 -27 54 54" className="inline-block align-middle" role="img" aria-label={still ? "a wheel that stands still" : `a wheel that turned ${way > 0 ? "clockwise" : "anticlockwise"} by ${show(Math.abs(turned), "deg", 0)}`}>
      <circle r="15" fill="var(--rule)" stroke="var(--ink)" strokeWidth="1.6" />
      <circle r="3" fill="var(--ink)" />
      <line x2="0" y2="-15" stroke="var(--ink)" strokeWidth="1.6" transform={`rotate(${turned % 360})`} />
      {!still && (
        <g transform={`scale(${way} 1)`} fill="none" stroke="var(--leaf)" strokeWidth="2.4">
          <path d="M-19,-10 A21.5,21.5 0 0 1 19,-10" />
          <path d="M19,-10 l-1,-8 M19,-10 l-8,-1.5" />
        </g>
      )}
    </svg>
  );
}

/** Both wheels together: how far it ended beside the line sets what the stronger one makes of a command. */
export function PairTest({ rig, source, onChange }: Props) {
  const [way, setWay] = useState(200);
  const [aside, setAside] = useState(0);
  const [said, setSaid] = useState("");
  const [seen, setSeen] = useState<Practised | null>(null);
  const practise = useMutation({ mutationFn: () => answer(rigsPractiseCreate({ path: { id: rig }, body: { motor: "" } })), onSuccess: (tried) => { setSeen(tried); setSaid(""); } });
  const drive = source.drive;
  const live = useTurned(rig, drive ? [drive.left, drive.right] : []);
  if (!drive) return null;
  const set = (ratio: number) => {
    const [weaker, slower] = ratio < 1 ? [drive.left, ratio] : [drive.right, 1 / ratio];
    // what the dead zone takes is taken from both: speeds differ more than what the wheels make of a command
    const share = slower + ((1 - slower) * percent(at(source.parts[weaker] ?? {}, "physics.dead_zone"), 4)) / POWER;
    if (seen) {
      const right = weaker === seen.weaker && Math.abs(share - (seen.share ?? 1)) < 0.012;
      setSaid(`${right ? "Right" : "Not yet"}: ${seen.weaker} made ${show((seen.share ?? 1) * 100, "%", 1)} of a command${right ? "" : `, and this says ${weaker} makes ${show(share * 100, "%", 1)}`}.`);
      return;
    }
    let parts = source.parts;
    for (const name of [drive.left, drive.right]) {
      const part = parts[name];
      if (part) parts = { ...parts, [name]: withAt(part, "physics.gain", name === weaker && ratio !== 1 ? show(share * 100, "%", 2) : undefined) };
    }
    onChange({ ...source, parts }, "pair");
    setSaid(ratio === 1 ? "Both wheels make the same of a command." : `${weaker} makes ${show(share * 100, "%", 2)} of what the other wheel makes; floors show the bend now.`);
  };
  const byTape = () => {
    // the circle of a robot whose wheels differ: over its diameter, as the way aside is over the chord's square
    const half = (aside / (way * way + aside * aside)) * cm(drive.track_width, 14);
    set((1 - half) / (1 + half));
  };
  const [left, right] = live.turned;
  return (
    <Trial title="Pair test">
      {seen ? (
        <p>
          A made-up robot did <code className="num text-[13px]">drive at 40 %</code> along a line. After <b className="num">{show(seen.way ?? 0, "cm", 1)}</b> it was <b className="num">{show(Math.abs(seen.aside ?? 0), "cm", 1)}</b> to the {(seen.aside ?? 0) > 0 ? "left" : "right"} of it. Write that down:
        </p>
      ) : (
        <p>
          Let the robot do <code className="num text-[13px]">drive at 40 %</code> along a line, for about 2 m. How far beside it does it end? To the left is more than 0.
        </p>
      )}
      <span className="flex flex-wrap items-center gap-2">
        <NumberField label="The way" word="after" unit="cm" value={way} least={10} onChange={setWay} />
        <NumberField label="Beside the line" word="beside it by" unit="cm" value={aside} onChange={setAside} />
        <Button small onClick={byTape}>
          Set the trim
        </Button>
        <Practising goesOn={practise.isPending} seen={seen !== null} onPractise={() => practise.mutate()} onRobot={() => { setSeen(null); setSaid(""); }} />
      </span>
      {!seen && live.comes && (
        <p data-counted="pair">
          The encoders counted <b className="num">{show(left ?? 0, "deg", 0)}</b> and <b className="num">{show(right ?? 0, "deg", 0)}</b>{" "}
          <button type="button" className="text-leaf underline" onClick={live.reset}>
            from here
          </button>
          .{" "}
          {Math.min(Math.abs(left ?? 0), Math.abs(right ?? 0)) > 180 && (
            <Button small onClick={() => set(Math.abs((left ?? 1) / (right ?? 1)))}>
              Set the trim by them
            </Button>
          )}
        </p>
      )}
      <Trouble error={practise.error} />
      {said && <p role="status">{said}</p>}
    </Trial>
  );
}

/** A switch: what its line says while a finger is on it sets its sense, so that nothing has "crashed" at once. */
export function SwitchTest({ rig, name, source, onChange }: Props & { name: string }) {
  const live = useLive(rig).data;
  const [practice, setPractice] = useState<{ low: boolean; down: boolean } | null>(null);
  const [said, setSaid] = useState("");
  const part = source.parts[name];
  if (!part) return null;
  const isLow = part["active"] === "low";
  const now = nowOf(live, name);
  // what came live was read by the rig's sense already
  const level = practice ? (practice.down !== practice.low ? 1 : 0) : now === null ? null : isLow ? 1 - now : now;
  const answerWith = (pressed: 0 | 1) => {
    const low = pressed === 0;
    if (practice) {
      setSaid(low === practice.low ? `Right: ${low ? "it has a pull-up, and pressed it draws its line to ground." : "pressed, it draws its line up."}` : "Look again, with the finger on it.");
      return;
    }
    onChange({ ...source, parts: { ...source.parts, [name]: withAt(part, "active", low ? "low" : undefined) } }, `switch ${name}`);
    setSaid(low ? `Pressed, ${name} reads 0: a switch to ground with a pull-up. What comes is read so from now on.` : `Pressed, ${name} reads 1: nothing is turned round.`);
  };
  return (
    <Trial title="Switch test">
      <p>
        Put a finger on it, and look at its line: with a pull-up a pressed switch reads 0, without one 1. Pressed, it reads:
      </p>
      <span className="flex flex-wrap items-center gap-1.5">
        {([1, 0] as const).map((value) => (
          <Button key={value} small active={!practice && isLow === (value === 0)} onClick={() => answerWith(value)}>
            {value}
          </Button>
        ))}
        {level !== null && (
          <span data-level={name}>
            now its line reads <b className="num">{level}</b>
          </span>
        )}
        <Button small onClick={() => { setPractice({ low: Math.random() < 0.5, down: false }); setSaid(""); }}>
          {practice ? "Another one" : "Practise it"}
        </Button>
        {practice && (
          <>
            <Button small active={practice.down} aria-pressed={practice.down} onClick={() => setPractice({ ...practice, down: !practice.down })}>
              {practice.down ? "Finger off" : "Finger on"}
            </Button>
            <Button small onClick={() => { setPractice(null); setSaid(""); }}>
              On the robot
            </Button>
          </>
        )}
      </span>
      {level === null && (
        <p className="text-soft">
          With{" "}
          <Link className="text-leaf underline" to={`/rigs/${rig}/live`}>
            live readings
          </Link>{" "}
          its line is shown here.
        </p>
      )}
      {said && <p role="status">{said}</p>}
    </Trial>
  );
}

/** Changes between the real robot and one that is made up for practice. */
function Practising({ goesOn, seen, onPractise, onRobot }: { goesOn: boolean; seen: boolean; onPractise: () => void; onRobot: () => void }) {
  return (
    <>
      <Button small disabled={goesOn} onClick={onPractise}>
        {seen ? "Another one" : "Practise it"}
      </Button>
      {seen && (
        <Button small onClick={onRobot}>
          On the robot
        </Button>
      )}
    </>
  );
}
