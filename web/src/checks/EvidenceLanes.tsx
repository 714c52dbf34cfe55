import type { Lane, Part, Rig, Run, Verdict } from "../api/generated";
import { useNamed, useVisibleLanes } from "../bench/visible";
import { niceStep, show, showSeconds, ticksBetween } from "../model/numbers";
import { isLively, pathOf, rangeOf } from "../model/signals";
import { Due, Windows } from "../ui/Windows";

interface Props {
  rig: Rig;
  sentence: string;
  readings: Lane[];
  run: Run;
  verdict: Verdict | undefined;
}

const MOST = 5;
const WIDE = 1000;
const TALL = 58;
const NAMES = "w-[104px] shrink-0 pr-2 text-right text-[13px] leading-tight";

/** From what to what a signal goes: `0 to 45 %`. */
function extent(part: Part, lane: Lane): string {
  const values = lane.values.filter((value) => value !== null);
  if (!values.length) return "absent";
  const [least, most] = [values.reduce((a, b) => Math.min(a, b)), values.reduce((a, b) => Math.max(a, b))];
  return least === most ? show(least, part.unit, 1) : `${show(least, "", 1)} to ${show(most, part.unit, 1)}`;
}

/** What a check looks at, over the run, and the stretches in which it is tested. */
export function EvidenceLanes({ rig, sentence, readings, run, verdict }: Props) {
  const named = useNamed(rig, "", sentence);
  const lanes = useVisibleLanes(rig, named, readings, run.outputs, false);
  const asked = [...lanes.readings, ...lanes.outputs].filter(({ part }) => named.has(part.name));
  const shown = (asked.length ? asked : lanes.outputs).slice(0, MOST);
  const to = run.lasted || 1;
  const step = niceStep(to, 6);
  return (
    <div data-evidence-lanes="">
      {shown.map(({ part, lane }) => (
        <div key={part.name} className="flex items-center border-b border-rule">
          <span className={NAMES}>
            {part.name}
            {!part.contact && !lane.texts && <span className="num block text-[12px] text-soft">{extent(part, lane)}</span>}
          </span>
          <div className="relative min-w-0 flex-1 overflow-hidden">
            {verdict && <Windows check={verdict} from={0} to={to} className="inset-y-0 opacity-60" />}
            <Course part={part} lane={lane} to={to} />
          </div>
        </div>
      ))}
      <div className="flex items-center">
        <span className={NAMES}>tested</span>
        <div className="relative h-[24px] min-w-0 flex-1 overflow-hidden border-b border-rule">
          {verdict && <Windows check={verdict} from={0} to={to} className="top-[3px] h-[13px]" numbered />}
          {verdict && <Due check={verdict} from={0} to={to} className="top-[17px] h-[5px]" />}
        </div>
      </div>
      <div className="flex text-[12px] text-soft">
        <span className={NAMES}>time</span>
        <div className="relative h-5 min-w-0 flex-1">
          {ticksBetween(0, to, step).map((tick) => (
            <span key={tick} className="num absolute -translate-x-1/2 first:translate-x-0" style={{ left: `${(tick / to) * 100}%` }}>
              {tick < to * 0.97 && `${showSeconds(tick, step)} s`}
            </span>
          ))}
        </div>
      </div>
    </div>
  );
}

function Course({ part, lane, to }: { part: Part; lane: Lane; to: number }) {
  const tone = part.role === "output" ? "var(--output)" : "var(--reading)";
  if (lane.texts) return <p className="num relative h-[26px] truncate px-1 text-[12px] leading-[26px]">{[...new Set(lane.texts.filter(Boolean))].join(", ")}</p>;
  const [least, most] = part.contact ? [-0.25, 1.25] : rangeOf([lane], part.role === "output" ? [0, ...(isLively(lane) ? [] : [part.high ?? 100])] : []);
  const high = part.contact ? 26 : TALL;
  const place = (value: number) => 3 + (1 - (value - least) / (most - least)) * (high - 6);
  return (
    <svg
      className="relative block w-full"
      viewBox={`0 0 ${WIDE} ${high}`}
      height={high}
      preserveAspectRatio="none"
      role="img"
      aria-label={part.contact ? `${part.name} over time` : `${part.name} over time, from ${show(least, part.unit)} to ${show(most, part.unit)}`}
    >
      <path d={pathOf(lane, 0, to, (at) => (at / to) * WIDE, place)} fill="none" stroke={tone} strokeWidth="1.6" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
