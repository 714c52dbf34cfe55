import { memo, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";

import type { Doing, Floor, Lane, Rig, Run } from "../api/generated";
import { useTheme } from "../app/theme";
import { FloorDrawing } from "../floors/FloorDrawing";
import { away, type Point } from "../floors/geometry";
import { planOf } from "../floors/plan";
import { fit, toFloor } from "../floors/view";
import { show } from "../model/numbers";
import { valueAt } from "../model/signals";
import { Button } from "../ui/Button";
import { MovedThings } from "./MovedThings";
import { paintRide } from "./paintRide";
import { poseAt, wayAt, waysOf } from "./ride";
import { useAxis } from "./store";
import { Tape } from "./Tape";
import { useSize } from "./useSize";

interface Props {
  rig: Rig;
  floor: Floor;
  run: Run | null;
  doings: Doing[];
  /** Undefined where hands cannot do anything. */
  onDo?: (...doings: Doing[]) => void;
}

/** A pane narrower than this has its numbers under the floor. */
const NARROW = 500;

/** The floor to scale: the way travelled, contacts, and the robot where the time cursor is. */
export const FloorPane = memo(function FloorPane({ rig, floor, run, doings, onDo }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const words = useRef<HTMLDListElement>(null);
  const pane = useRef<HTMLElement>(null);
  const stacked = useSize(pane).width < NARROW;
  const { width, height } = useSize(box);
  const dark = useTheme((theme) => theme.dark);
  const [tape, setTape] = useState<[Point, Point] | null>(null);
  const [measuring, setMeasuring] = useState(false);
  const plan = useMemo(() => planOf(floor.source), [floor]);
  const view = useMemo(() => fit(plan.size, width, height), [plan, width, height]);
  const ways = useMemo(() => (run?.ride ? waysOf(run.ride) : []), [run]);

  useEffect(() => {
    const element = canvas.current;
    const ink = element?.getContext("2d");
    if (!element || !ink || !width) return;
    const sharp = devicePixelRatio || 1;
    element.width = Math.round(width * sharp);
    element.height = Math.round(height * sharp);
    const lanes = new Map((run?.readings ?? []).map((lane: Lane) => [lane.part, lane]));
    const reading = (part: string, at: number) => {
      const lane = lanes.get(part);
      return lane ? valueAt(lane, at) : null;
    };
    const paint = () => {
      const { cursor } = useAxis.getState();
      ink.setTransform(sharp, 0, 0, sharp, 0, 0);
      ink.clearRect(0, 0, width, height);
      if (!run?.ride) return;
      paintRide(ink, view, rig, run, cursor, reading);
      const { at, heading } = poseAt(run.ride, cursor);
      const start: Point = [run.ride.x[0] ?? 0, run.ride.y[0] ?? 0];
      write(words.current, [
        show(at[0], "cm", 1),
        show(at[1], "cm", 1),
        show(facing(heading), "deg", 0),
        show(wayAt(run.ride, ways, cursor), "cm", 1),
        show(away(start, at), "cm", 1),
      ]);
    };
    paint();
    return useAxis.subscribe(paint);
  }, [width, height, view, rig, run, ways, dark]);

  const pointAt = (event: PointerEvent): Point => {
    const edge = box.current?.getBoundingClientRect();
    return toFloor(view, event.clientX - (edge?.left ?? 0), event.clientY - (edge?.top ?? 0));
  };
  const measure = (event: PointerEvent) => {
    if (!measuring || event.button !== 0) return;
    const from = pointAt(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    setTape([from, from]);
  };
  const stretch = (event: PointerEvent) => {
    if (measuring && event.currentTarget.hasPointerCapture(event.pointerId)) {
      const to = pointAt(event);
      setTape((now) => now && [now[0], to]);
    }
  };
  const toggleTape = () => {
    setMeasuring(!measuring);
    const ride = run?.ride;
    if (measuring || !ride) setTape(null);
    else setTape([[ride.x[0] ?? 0, ride.y[0] ?? 0], poseAt(ride, useAxis.getState().cursor).at]);
  };

  return (
    <section ref={pane} className={`flex h-full min-w-0 flex-1 ${stacked ? "flex-col" : ""}`} aria-label="Floor">
      <div
        ref={box}
        className={`relative min-h-0 min-w-0 flex-1 overflow-hidden ${measuring ? "cursor-crosshair touch-none" : ""}`}
        onPointerDown={measure}
        onPointerMove={stretch}
      >
        {width > 0 && (
          <>
            <svg width={width} height={height} className="absolute inset-0" role="img" aria-label={`${floor.name}, seen from above`}>
              <FloorDrawing plan={plan} view={view} withoutMovable />
            </svg>
            <canvas ref={canvas} className="pointer-events-none absolute inset-0" style={{ width, height }} />
            <svg width={width} height={height} className={`absolute inset-0 ${measuring ? "" : "pointer-events-none"}`}>
              <MovedThings plan={plan} view={view} ride={run?.ride ?? null} doings={doings} onDo={measuring ? undefined : onDo} />
              {tape && <Tape tape={tape} view={view} onMove={setTape} />}
            </svg>
          </>
        )}
      </div>
      <div className={`flex shrink-0 gap-2 text-[13px] ${stacked ? "items-center px-2 pb-1.5" : "w-[144px] flex-col py-2 pr-2"}`}>
        <dl ref={words} className={stacked ? "flex flex-1 flex-wrap gap-x-3 leading-snug" : "grid grid-cols-[auto_1fr] gap-x-2 leading-snug"} data-pose="">
          {["x", "y", "facing", "travelled", "from start"].map((word) => (
            <div key={word} className={stacked ? "flex gap-1.5" : "contents"}>
              <dt className="whitespace-nowrap text-soft">{word}</dt>
              <dd className="num text-right whitespace-nowrap" />
            </div>
          ))}
        </dl>
        <Button
          small
          active={measuring}
          aria-pressed={measuring}
          onClick={toggleTape}
          title="Measure between any two points: drag, or move its ends with the arrow keys"
        >
          Tape measure
        </Button>
      </div>
    </section>
  );
});

/** A heading between -180 and 180 deg. */
function facing(heading: number): number {
  return ((((heading + 180) % 360) + 360) % 360) - 180;
}

function write(list: HTMLElement | null, texts: string[]): void {
  list?.querySelectorAll("dd").forEach((place, index) => {
    place.textContent = texts[index] ?? "";
  });
}
