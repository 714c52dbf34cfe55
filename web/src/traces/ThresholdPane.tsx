import { useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { useBehaviours, useChange, useThresholdsOf } from "../api/hooks";
import { behavioursPartialUpdate, type Behaviour, type Part, type Threshold, type Trace } from "../api/generated";
import { useAxis } from "../bench/store";
import { useSettled } from "../ui/useSettled";
import { moved } from "../model/handles";
import { withLet, withValue } from "../model/thresholds";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";
import { LevelsOf } from "./LevelsOf";

/** A threshold for a channel, as its readings suggest it: the histogram, the levels, and where it can be used. */
export function ThresholdPane({ trace, parts }: { trace: Trace; parts: Part[] }) {
  const { selected } = useAxis();
  const [start, stop] = useSettled(selected ?? [0, trace.duration_us / 1e6], 150);
  const numbers = parts.filter((part) => !part.contact && !part.says && part.role === "sensor");
  const [channel, setChannel] = useState(numbers[0]?.name ?? "");
  const part = numbers.find((item) => item.name === channel);
  if (!part) return <p className="text-[14px] text-soft">This trace has no reading with numbers: for a contact no threshold is needed.</p>;
  return (
    <div className="space-y-2 text-[14px]">
      <Choice label="For" value={channel} options={numbers.map((item) => ({ value: item.name, label: item.name }))} onChange={setChannel} />
      <p className="text-[13px] text-soft">From {selected ? "the chosen stretch" : "the whole trace"}.</p>
      <LevelsOf trace={trace.id} part={part} from={start} to={stop}>
        {(value, slack) => <UseIt rig={trace.rig} part={part} value={value} slack={slack} />}
      </LevelsOf>
    </div>
  );
}

interface UseProps {
  rig: number;
  part: Part;
  value: number;
  slack: number;
}

/** Puts a threshold into a behaviour: in place of a number that the reading is compared with, or as a new value. */
function UseIt({ rig, part, value, slack }: UseProps) {
  const behaviours = (useBehaviours().data ?? []).filter((item) => item.rig === rig);
  const [chosen, setChosen] = useState<string>("");
  const behaviour = behaviours.find((item) => String(item.id) === chosen);
  const asked = useThresholdsOf(rig, behaviour);
  const places = asked.data ? moved(asked.data.thresholds, asked.data.settings).filter((handle) => handle.part === part.name) : [];
  const [done, setDone] = useState<Behaviour | null>(null);
  const put = useChange(
    async (text: string) => answer(behavioursPartialUpdate({ path: { id: behaviour?.id ?? 0 }, body: { text, started_from: behaviour?.version } })),
    "behaviours", "behaviour",
  );
  const write = (text: string) => put.mutate(text, { onSuccess: setDone });
  const said = show(value, part.unit);
  return (
    <div className="space-y-1.5 border-t border-rule pt-2">
      <Choice
        label="Put it into"
        value={chosen}
        options={[{ value: "", label: "a behaviour …" }, ...behaviours.map((item) => ({ value: String(item.id), label: item.title }))]}
        onChange={(id) => {
          setChosen(id);
          setDone(null);
        }}
      />
      {behaviour && asked.data && !done && (
        <ul className="space-y-1">
          {places.map((place) => (
            <li key={`${place.line}:${place.column}`}>
              <Button small onClick={() => write(place.places.reduce((text, item) => withValue(text, item, value), behaviour.text))}>
                Line {place.line}: {lineWith(behaviour.text, place)} → {said}
              </Button>
            </li>
          ))}
          <li>
            <Button small onClick={() => write(withLet(behaviour.text, part, value, slack))}>
              As a value of its own, on top
            </Button>
          </li>
        </ul>
      )}
      <Trouble error={put.error ?? asked.error} />
      {done && (
        <p role="status">
          It stands in <Link className="text-leaf underline underline-offset-2" to={`/bench/${done.id}`}>{done.title}</Link> now. One step of undo there, or its history, brings back what was.
        </p>
      )}
    </div>
  );
}

function lineWith(text: string, place: Threshold): string {
  const line = text.split("\n")[place.line - 1] ?? "";
  return line.slice(place.column - 1, place.end_column - 1);
}
