import type { BenchAnswer, Floor, Lane, Part, Rig, Trace } from "../api/generated";
import { isWorktop, planOf } from "../floors/plan";
import { fit } from "../floors/view";
import type { Moved } from "../model/handles";
import { floorPicture } from "../picture/floor";
import { lanesPicture } from "../picture/lanes";
import { PictureMenu } from "../picture/PictureMenu";
import { later } from "../ui/later";
import { useAxis } from "./store";
import type { VisibleLanes } from "./visible";

interface Props {
  text: string;
  rig: Rig;
  trace: Trace | null;
  floor: Floor | null;
  answer: BenchAnswer | undefined;
  lanes: VisibleLanes;
  thresholds: Moved[];
  chosen: string | null;
  /** Whether the address has a place for the trace. */
  namesTrace: boolean;
}

/** What a program calls itself. */
function titleIn(text: string): string {
  return /^(?:behaviour|library)\s+"([^"]*)"/m.exec(text)?.[1] ?? "Program";
}

/** What is seen, to take away: the lanes, the floor with its trail, and the address of this view. */
export const TakeAway = later(function TakeAway({ text, rig, trace, floor, answer, lanes, thresholds, chosen, namesTrace }: Props) {
  const title = titleIn(text);
  const run = answer?.run ?? null;
  const drawLanes = () => {
    const { from, to } = useAxis.getState();
    const drawn = ({ part, lane }: { part: Part; lane: Lane }) => ({
      part,
      lane,
      ghost: answer?.behind?.find((ghost) => ghost.part === part.name),
      handles: thresholds.filter((handle) => handle.part === part.name).map((handle) => handle.value),
    });
    const below = `On ${trace?.name ?? floor?.name ?? "nothing but time"}, with the rig ${rig.name}. Time in s.`;
    const [readings, outputs] = [lanes.readings.map(drawn), lanes.outputs.map(drawn)];
    return lanesPicture({ title, below, from, to, readings, outputs, run, lines: text.split("\n"), checks: answer?.checks ?? [] });
  };
  const drawFloor = () => {
    const drawn = [...document.querySelectorAll<SVGSVGElement>("section[aria-label='Floor'] div > svg")];
    const size = drawn[0]?.getBoundingClientRect();
    if (!floor || !size) return null;
    const view = fit(planOf(floor.source).size, size.width, size.height);
    return floorPicture(`${title} on ${floor.name}`, drawn, view, run, Math.round(size.width), Math.round(size.height));
  };
  const link = () => {
    const address = new URL(location.href);
    const { cursor, from, to, end } = useAxis.getState();
    address.searchParams.set("at", cursor.toFixed(3));
    if (from > 0 || to < end) address.searchParams.set("seen", `${from.toFixed(3)}-${to.toFixed(3)}`);
    if (trace && namesTrace) address.searchParams.set("trace", String(trace.id));
    if (chosen) address.searchParams.set("check", chosen);
    return address.href;
  };
  const pictures = [
    { label: "These lanes", name: `${title} lanes`, draw: drawLanes },
    ...(floor && !isWorktop(floor.source) ? [{ label: "The floor with its trail", name: `${title} ${floor.name}`, draw: drawFloor }] : []),
  ];
  return <PictureMenu link={link} pictures={pictures} />;
});
