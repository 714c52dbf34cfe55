import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { useBehaviours, useChange, useThresholdsOf } from "../api/hooks";
import { behavioursPartialUpdate, tracesLevelsRetrieve, type Behaviour, type Levels, type Part, type Threshold, type Trace } from "../api/generated";
import { useAxis } from "../bench/store";
import { useSettled } from "../ui/useSettled";
import { moved } from "../model/handles";
import { withLet, withValue } from "../model/thresholds";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";

/** A threshold for a channel, as its readings suggest it: the histogram, the levels, and where it can be used. */
export function ThresholdPane({ trace, parts }: { trace: Trace; parts: Part[] }) {
  const { selected } = useAxis();
  const [start, stop] = useSettled(selected ?? [0, trace.duration_us / 1e6], 150);
  const numbers = parts.filter((part) => !part.contact && !part.says && part.role === "sensor");
  const [channel, setChannel] = useState(numbers[0]?.name ?? "");
  const part = numbers.find((item) => item.name === channel);
  const levels = useQuery({
    queryKey: ["levels", trace.id, channel, start, stop],
    queryFn: ({ signal }) => answer(tracesLevelsRetrieve({ path: { id: trace.id }, query: { channel, from: start, to: stop }, signal })),
    enabled: part !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  if (!part) return <p className="text-[14px] text-soft">This trace has no reading with numbers: for a contact no threshold is needed.</p>;
  const found = levels.data;
  return (
    <div className="space-y-2 text-[14px]">
      <Choice label="For" value={channel} options={numbers.map((item) => ({ value: item.name, label: item.name }))} onChange={setChannel} />
      <p className="text-[13px] text-soft">From {selected ? "the chosen stretch" : "the whole trace"}.</p>
      <Trouble error={levels.error} />
      {found && !levels.error && (
        <>
          <Histogram levels={found} unit={part.unit} />
          <p>{found.because}</p>
          {found.threshold !== null && found.slack !== null && (
            <>
              <dl className="num grid grid-cols-[auto_1fr] gap-x-3" data-levels={channel}>
                <dt className="font-sans text-soft">threshold</dt>
                <dd className="font-bold">{show(found.threshold, part.unit)}</dd>
                <dt className="font-sans text-soft">slack</dt>
                <dd className="font-bold">{show(found.slack, part.unit)}</dd>
                <dt className="font-sans text-soft">noise</dt>
                <dd>{show(found.noise, part.unit, 3)}</dd>
              </dl>
              <UseIt rig={trace.rig} part={part} value={found.threshold} slack={found.slack} />
            </>
          )}
        </>
      )}
    </div>
  );
}

const WIDTH = 300;
const HEIGHT = 96;

function Histogram({ levels, unit }: { levels: Levels; unit: string }) {
  const most = Math.max(1, ...levels.counts);
  const low = levels.edges[0] ?? 0;
  const high = levels.edges.at(-1) ?? 1;
  const x = (value: number) => ((value - low) / (high - low || 1)) * WIDTH;
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT + 30}`} className="w-full" role="img" aria-label={`How often which reading came, from ${show(low, unit)} to ${show(high, unit)}`}>
        {levels.counts.map((count, index) => {
          // a root, so that rare readings are seen beside a level that holds for long
          const tall = Math.sqrt(count / most) * HEIGHT;
          return <rect key={index} x={x(levels.edges[index] ?? 0)} y={HEIGHT - tall} width={WIDTH / levels.counts.length - 0.5} height={tall} fill="var(--reading)" />;
        })}
        <line x1="0" x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--rule)" />
        {levels.threshold !== null && levels.slack !== null && (
          <>
            <rect x={x(levels.threshold - levels.slack / 2)} width={Math.max(1, x(levels.threshold + levels.slack / 2) - x(levels.threshold - levels.slack / 2))} y="0" height={HEIGHT} fill="var(--leaf)" opacity="0.22" />
            <line x1={x(levels.threshold)} x2={x(levels.threshold)} y1="0" y2={HEIGHT} stroke="var(--leaf)" strokeWidth="2" />
          </>
        )}
        {[levels.low, levels.high].map((level) => level !== null && <path key={level} d={`M${x(level)} ${HEIGHT + 2}l-4 7h8z`} fill="var(--ink)" />)}
        <text x="0" y={HEIGHT + 24} fontSize="11" fill="var(--soft)" className="num">
          {show(low, unit, 1)}
        </text>
        <text x={WIDTH} y={HEIGHT + 24} fontSize="11" fill="var(--soft)" textAnchor="end" className="num">
          {show(high, unit, 1)}
        </text>
      </svg>
      <figcaption className="text-[12.5px] text-soft">How often which reading came. Triangles are the two levels, the line is the threshold, the band its slack.</figcaption>
    </figure>
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
