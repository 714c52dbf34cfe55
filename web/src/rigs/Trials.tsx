import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer } from "../api/client";
import { rigsLiveRetrieve } from "../api/generated";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { at, cm, type RigSource, withAt } from "./source";

interface Props {
  rig: number;
  source: RigSource;
  onChange: (source: RigSource, gesture: string) => void;
}

/** One motor alone: which way it turned sets its direction. Nothing is sent to the robot; its own program makes the move. */
export function SpinTest({ name, source, onChange }: Props & { name: string }) {
  const [said, setSaid] = useState("");
  const part = source.parts[name];
  if (!part) return null;
  const turned = at(part, "reversed") === true;
  const side = source.drive?.left === name || source.drive?.right === name;
  const answerWith = (way: "forward" | "backward" | "still") => {
    if (way === "forward") setSaid(`${name} is as it should be${turned ? ": turned round" : ""}.`);
    else if (way === "still") setSaid(`Nothing moved: look whether it is plugged into port ${part.port}, and whether 30 % is more than its dead zone.`);
    else {
      onChange({ ...source, parts: { ...source.parts, [name]: withAt(part, "reversed", turned ? undefined : true) } }, `spin ${name}`);
      setSaid(`${name} counts as ${turned ? "not turned round" : "turned round"} now: forward is forward. Try it again.`);
    }
  };
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Spin test">
      <h3 className="font-bold">Spin test</h3>
      <p>
        Let the robot do <code className="num text-[13px]">{name} at 30 % for 1 s</code>, its wheels off the ground. {side ? "Forward is the way that drives the robot ahead." : "Forward is the way that you call so."} It turned:
      </p>
      <span className="mt-1 flex flex-wrap gap-1.5">
        <Button small onClick={() => answerWith("forward")}>
          forward
        </Button>
        <Button small onClick={() => answerWith("backward")}>
          backward
        </Button>
        <Button small onClick={() => answerWith("still")}>
          not at all
        </Button>
      </span>
      {said && <p role="status" className="mt-1">{said}</p>}
    </section>
  );
}

/** Both wheels together: how far it ended beside the line sets what the stronger one makes of a command. */
export function PairTest({ source, onChange }: Props) {
  const [way, setWay] = useState(200);
  const [aside, setAside] = useState(0);
  const [said, setSaid] = useState("");
  const drive = source.drive;
  if (!drive) return null;
  const apply = () => {
    // the arc of a robot whose wheels differ: it ends aside by half the turn times the way
    const half = (aside / (way * way)) * cm(drive.track_width, 14);
    const ratio = (1 - half) / (1 + half);
    const [weaker, share] = ratio < 1 ? [drive.left, ratio] : [drive.right, 1 / ratio];
    let parts = source.parts;
    for (const name of [drive.left, drive.right]) {
      const part = parts[name];
      if (part) parts = { ...parts, [name]: withAt(part, "physics.gain", name === weaker && aside !== 0 ? show(share * 100, "%", 2) : undefined) };
    }
    onChange({ ...source, parts }, "pair");
    setSaid(aside === 0 ? "Both wheels make the same of a command." : `${weaker} makes ${show(share * 100, "%", 2)} of what the other wheel makes; floors show the bend now.`);
  };
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Pair test">
      <h3 className="font-bold">Pair test</h3>
      <p>
        Let the robot do <code className="num text-[13px]">drive at 40 %</code> along a line, for about 2 m. How far beside it does it end? To the left is more than 0.
      </p>
      <span className="mt-1 flex flex-wrap items-center gap-2">
        <NumberField label="The way" word="after" unit="cm" value={way} least={10} onChange={setWay} />
        <NumberField label="Beside the line" word="beside it by" unit="cm" value={aside} onChange={setAside} />
        <Button small onClick={apply}>
          Set the trim
        </Button>
      </span>
      {said && <p role="status" className="mt-1">{said}</p>}
    </section>
  );
}

/** A switch: what its line reads now, live, and what it should read while it is pressed. */
export function SwitchTest({ rig, name }: { rig: number; name: string }) {
  const live = useQuery({ queryKey: ["live", rig], queryFn: ({ signal }) => answer(rigsLiveRetrieve({ path: { id: rig }, signal })), refetchInterval: 300 });
  const reading = live.data?.readings.find((item) => item.name === name);
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Switch test">
      <h3 className="font-bold">Switch test</h3>
      {reading && live.data?.connected ? (
        <p>
          It reads <b role="status">{reading.value === null ? "nothing" : reading.value ? "pressed" : "released"}</b> now. Press it, and let go: does it say so? With a pull-up a pressed switch reads as 0: then choose &ldquo;0 is pressed&rdquo; on the{" "}
          <a className="text-leaf underline" href={`/rigs/${rig}/live`}>
            live page
          </a>
          , under what its names mean.
        </p>
      ) : (
        <p className="text-soft">
          Needs{" "}
          <a className="text-leaf underline" href={`/rigs/${rig}/live`}>
            live readings
          </a>
          : press it and see whether it says so. A switch with a pull-up reads as 0 while it is pressed; taken the wrong way round, the robot has &ldquo;crashed&rdquo; at once.
        </p>
      )}
    </section>
  );
}
