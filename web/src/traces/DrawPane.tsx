import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useCallback, useRef, useState } from "react";

import { answer } from "../api/client";
import { tracesDrawingPartialUpdate, tracesDrawingRetrieve, type Part } from "../api/generated";
import { show } from "../model/numbers";
import { type Channel, numberOf, type Sketch, withUnitOf } from "../model/sketch";
import { SavedWord } from "../saving/SavedWord";
import { useHistory } from "../saving/useHistory";
import { useSaved } from "../saving/useSaved";
import { Typed } from "../rigs/FieldForm";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";

/** The points that a drawn trace is made of; for a recorded one there are none. */
export function DrawPane({ trace, parts }: { trace: number; parts: Part[] }) {
  const drawing = useQuery({ queryKey: ["drawing", trace], queryFn: () => answer(tracesDrawingRetrieve({ path: { id: trace } })) });
  if (drawing.error) return <Trouble error={drawing.error} />;
  if (!drawing.data) return <p className="text-[14px]">Looking …</p>;
  if (!drawing.data.source) return <p className="text-[14px] text-soft">This trace was recorded, not drawn. A drawn one is made on the shelf: &ldquo;Draw one&rdquo;.</p>;
  return <Editor trace={trace} first={drawing.data.source as unknown as Sketch} parts={parts} />;
}

function Editor({ trace, first, parts }: { trace: number; first: Sketch; parts: Part[] }) {
  const client = useQueryClient();
  const { saving, save } = useSaved<{ source: Sketch }>(async ({ source }) => {
    await answer(tracesDrawingPartialUpdate({ path: { id: trace }, body: { source: source as unknown as Record<string, unknown> } }));
    for (const key of ["trace", "traces", "lanes", "stretch", "levels"]) void client.invalidateQueries({ queryKey: [key] });
    return {};
  });
  const keep = useCallback((source: Sketch) => save({ source }), [save]);
  const { value, change, undo } = useHistory<Sketch>(first, keep);
  const drawable = parts.filter((part) => !part.says);
  const [name, setName] = useState(Object.keys(first.channels)[0] ?? "");
  const part = drawable.find((item) => item.name === name);
  const channel = value.channels[name];
  const put = (next: Channel, gesture: string) => change({ ...value, channels: { ...value.channels, [name]: next } }, gesture);
  const absent = drawable.filter((item) => !(item.name in value.channels));
  return (
    <div className="space-y-2 text-[14px]">
      <div className="flex items-center gap-2">
        <Choice label="Channel" value={name} options={Object.keys(value.channels).map((key) => ({ value: key, label: key }))} onChange={setName} />
        <span className="flex-1" />
        <Button small disabled={!undo} onClick={undo}>
          Undo
        </Button>
        <SavedWord saving={saving} />
      </div>
      {part && channel && <Points part={part} channel={channel} lasts={numberOf(value.lasts)} onChange={put} />}
      {part && channel && (
        <>
          {!part.contact && (
            <Choice
              label="From point to point"
              value={channel.shape ?? "line"}
              options={[
                { value: "line", label: "straight" },
                { value: "smooth", label: "smooth" },
                { value: "step", label: "in steps" },
              ]}
              onChange={(shape) => put({ ...channel, shape: shape as Channel["shape"] }, "shape")}
            />
          )}
          <Line label={part.contact ? "bounces for" : "noise"} value={part.contact ? channel.bounce : channel.noise} unit={part.contact ? "ms" : part.unit} onChange={(text) => put(part.contact ? { ...channel, bounce: text } : { ...channel, noise: text }, "noise")} />
          <Line label="readings that are missed" value={channel.missed} unit="%" onChange={(missed) => put({ ...channel, missed }, "missed")} />
        </>
      )}
      <div className="space-y-1.5 border-t border-rule pt-2">
        <Line label="it lasts" value={value.lasts} unit="s" onChange={(lasts) => lasts && change({ ...value, lasts }, "lasts")} />
        <Line label="samples a second" value={value.rate} unit="Hz" onChange={(rate) => rate && change({ ...value, rate }, "rate")} />
        <div className="flex items-center gap-2">
          <span className="flex-1">chance of its noise, seed {value.seed}</span>
          <Button small onClick={() => change({ ...value, seed: value.seed + 1 }, "seed")}>
            Another
          </Button>
        </div>
        {absent.length > 0 && (
          <Choice
            label="Draw also"
            value=""
            options={[{ value: "", label: "a channel …" }, ...absent.map((item) => ({ value: item.name, label: item.name }))]}
            onChange={(key) => {
              const more = drawable.find((item) => item.name === key);
              if (!more) return;
              change({ ...value, channels: { ...value.channels, [key]: { points: [["0 s", more.contact ? 0 : withUnitOf(more, more.low ?? 0)]] } } }, "channel");
              setName(key);
            }}
          />
        )}
      </div>
    </div>
  );
}

function Line({ label, value, unit, onChange }: { label: string; value: string | undefined; unit: string; onChange: (value: string | undefined) => void }) {
  return (
    <div className="flex items-center gap-2">
      <span className="flex-1">{label}</span>
      <Typed label={label} value={value ?? ""} hint={`0 ${unit}`} onChange={(text) => onChange(text === "" ? undefined : /^-?[0-9.,]+$/.test(text) ? `${text.replace(",", ".")} ${unit}` : text)} />
    </div>
  );
}

const WIDTH = 310;
const HEIGHT = 150;

interface PointsProps {
  part: Part;
  channel: Channel;
  lasts: number;
  onChange: (channel: Channel, gesture: string) => void;
}

/** The points of a channel: drag them, add one where nothing is, or set them by the arrow keys. */
function Points({ part, channel, lasts, onChange }: PointsProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState(0);
  const points = channel.points.map(([at, value]) => ({ at: numberOf(at), value: typeof value === "number" ? value : numberOf(value) }));
  const low = part.contact ? 0 : Math.min(part.low ?? 0, ...points.map((point) => point.value));
  const high = part.contact ? 1 : Math.max(part.high ?? 100, ...points.map((point) => point.value));
  const x = (at: number) => 6 + (at / lasts) * (WIDTH - 12);
  const y = (value: number) => HEIGHT - 6 - ((value - low) / (high - low || 1)) * (HEIGHT - 12);
  const put = (next: { at: number; value: number }[], gesture: string) =>
    onChange({ ...channel, points: next.map((point) => [`${Math.round(point.at * 1000) / 1000} s`, part.contact ? Math.round(point.value) : withUnitOf(part, point.value)]) }, gesture);
  const here = (event: PointerEvent) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.current?.getScreenCTM()?.inverse());
    const at = ((point.x - 6) / (WIDTH - 12)) * lasts;
    const value = low + ((HEIGHT - 6 - point.y) / (HEIGHT - 12)) * (high - low);
    return { at: Math.min(Math.max(0, at), lasts), value: part.contact ? (value > 0.5 ? 1 : 0) : Math.min(Math.max(low, value), high) };
  };
  /** A point elsewhere, between its neighbours. */
  const moved = (place: number, to: { at: number; value: number }) => {
    const least = (points[place - 1]?.at ?? -0.001) + 0.001;
    const most = (points[place + 1]?.at ?? lasts + 0.001) - 0.001;
    return points.map((point, index) => (index === place ? { at: Math.min(Math.max(to.at, least), most), value: to.value } : point));
  };
  const add = (event: PointerEvent) => {
    const made = here(event);
    const place = points.filter((point) => point.at < made.at).length;
    if (points.some((point) => Math.abs(point.at - made.at) < 0.002)) return;
    setChosen(place);
    put([...points.slice(0, place), made, ...points.slice(place)], "add point");
  };
  const press = (place: number) => (event: KeyboardEvent) => {
    const step = event.shiftKey ? 0.1 : 0.02;
    const point = points[place];
    if (!point) return;
    const keys: Record<string, { at: number; value: number }> = {
      ArrowLeft: { ...point, at: point.at - lasts * step },
      ArrowRight: { ...point, at: point.at + lasts * step },
      ArrowUp: { ...point, value: part.contact ? 1 : Math.min(high, point.value + (high - low) * step) },
      ArrowDown: { ...point, value: part.contact ? 0 : Math.max(low, point.value - (high - low) * step) },
    };
    const next = keys[event.key];
    if (next) put(moved(place, next), `move point ${place}`);
    else if (event.key === "Delete" && points.length > 1) put(points.filter((_, index) => index !== place), "delete point");
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const stepped = part.contact || channel.shape === "step";
  const line = points.map((point, index) => (index === 0 ? `M${x(0)} ${y(point.value)}H${x(point.at)}` : stepped ? `H${x(point.at)}V${y(point.value)}` : `L${x(point.at)} ${y(point.value)}`)).join("");
  const now = points[Math.min(chosen, points.length - 1)];
  return (
    <div>
      <svg ref={svg} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full touch-none rounded border border-rule bg-paper" role="group" aria-label={`The points of ${part.name}`} onPointerDown={add}>
        <path d={`${line}H${x(lasts)}`} fill="none" stroke="var(--reading)" strokeWidth="1.6" />
        {points.map((point, place) => (
          <circle
            key={place}
            cx={x(point.at)}
            cy={y(point.value)}
            r={place === chosen ? 6 : 4.5}
            fill="var(--reading)"
            stroke={place === chosen ? "var(--leaf)" : "var(--paper)"}
            strokeWidth="2"
            tabIndex={0}
            role="button"
            aria-label={`Point ${place + 1}: ${show(point.at, "s")}, ${show(point.value, part.unit, 1)}`}
            className="cursor-move"
            onFocus={() => setChosen(place)}
            onKeyDown={press(place)}
            onPointerDown={(event) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              setChosen(place);
            }}
            onPointerMove={(event) => {
              if (event.currentTarget.hasPointerCapture(event.pointerId)) put(moved(place, here(event)), `move point ${place}`);
            }}
          />
        ))}
      </svg>
      <p className="num mt-0.5 text-[13px] text-soft">
        {show(low, "", 1)} to {show(high, part.unit || "", 1)}; {now && `point ${Math.min(chosen, points.length - 1) + 1}: ${show(now.at, "s", 2)}, ${part.contact ? (now.value ? "pressed" : "released") : show(now.value, part.unit, 1)}`}
      </p>
      <p className="text-[12.5px] text-soft">Press where nothing is for a new point; drag points, or move them with the arrow keys; Delete takes one away.</p>
    </div>
  );
}
