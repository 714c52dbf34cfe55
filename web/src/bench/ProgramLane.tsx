import type { Bar, Run, Setting } from "../api/generated";
import { counted, show } from "../model/numbers";
import { apart, GUTTER, RIGHT, SCALE, share } from "./layout";
import type { OnMove } from "./moving";
import { useAxis, useSpan } from "./store";
import { isBelow, isShown, placeOf, TimeHandle } from "./TimeHandle";

interface Props {
  run: Run;
  lines: string[];
  lit: number | null;
  settings: Setting[];
  width: number;
  onMove: OnMove;
  onLine: (line: number) => void;
  onHover: (line: number | null) => void;
}

const KINDS: Record<string, string> = { note: "Note", send: "Sent", patience: "Patience ran out", absent: "Absent reading", finish: "Finished", limit: "Limit" };
const WIDE = 9; // pixels from which a bar has room for grips
const LEGIBLE = 14; // and for its line
const MOST_GRIPS = 24;

/** Which line waited when: a row for each lane of the program, the events in the first. */
export function ProgramLanes(props: Props) {
  const names = [...new Set(["begin", ...props.run.program.map((bar) => bar.lane)])];
  return names.map((name) => <ProgramLane key={name} {...props} name={name} />);
}

/** One lane. A wait is hatched; a loop that looks again and again is plain; many that are too short to see are one. */
function ProgramLane({ run, lines, lit, settings, width, onMove, onLine, onHover, name }: Props & { name: string }) {
  const { from, to } = useSpan();
  const { move, look } = useAxis.getState();
  const first = name === "begin";
  const seen = run.program.filter((bar) => bar.lane === name && bar.to >= from && bar.from <= to);
  const room = Math.max(1, width - GUTTER - SCALE - RIGHT);
  const grips = seen
    .filter((bar) => bar.state === "waiting" && (share(bar.to, from, to) - share(bar.from, from, to)) * room >= WIDE)
    .flatMap((bar) => settings.filter((setting) => setting.step === bar.line && !setting.part && isShown(setting, bar)).map((setting) => ({ bar, setting })))
    .filter(apart((item) => [share(placeOf(item.setting, item.bar), from, to) * room, isBelow(item.setting) ? 25 : 0]))
    .slice(0, MOST_GRIPS);
  return (
    <div className={`flex border-b border-rule ${first || grips.length ? "h-[53px]" : "h-[32px]"}`} data-lane={first ? "program" : `program-${name}`}>
      <div className="flex shrink-0 flex-col justify-center pl-3" style={{ width: GUTTER }}>
        <span className={`leading-tight ${first ? "font-bold" : "pl-2"}`}>{first ? "program" : name}</span>
        {first && <span className="text-[13px] leading-tight text-soft">line and wait</span>}
      </div>
      <div className="relative flex-1" style={{ marginLeft: SCALE, marginRight: RIGHT }}>
        <div className="absolute inset-0 overflow-hidden">
          {seen.map((bar, index) => {
            const left = Math.max(0, share(bar.from, from, to)) * 100;
            const right = Math.min(1, share(bar.to, from, to)) * 100;
            const many = bar.state === "many";
            // There may be hundreds, so they are plain: boxes of a class without variables, words where they can be
            // read, and a title when somebody asks.
            return (
              <div
                key={index}
                className={`bar bar-${bar.state} ${lit !== null && bar.line <= lit && lit <= bar.last_line ? "bar-lit" : ""}`}
                style={{ left: `${left}%`, width: `max(2px, ${right - left}%)` }}
                onClick={() => (many ? look(bar.from, bar.to) : onLine(bar.line))}
                onMouseDown={(event) => event.stopPropagation()}
                onMouseEnter={(event) => {
                  event.currentTarget.title = barTitle(bar, lines, run);
                  onHover(bar.line);
                }}
                onMouseLeave={() => onHover(null)}
                data-many={many ? bar.times : undefined}
              >
                {(right - left) * room > 100 * LEGIBLE && <span className="num bg-sheet px-0.5">{barWords(bar, lines)}</span>}
              </div>
            );
          })}
          {run.events
            .filter((event) => first && event.kind !== "move" && event.at >= from && event.at <= to)
            .map((event, index) => (
              // a mark, and a shortcut for the pointer: the keys , and . go to the same instants
              <span
                key={`event-${index}`}
                role="img"
                className="absolute bottom-0 z-20 h-0 w-0 -translate-x-1/2 cursor-pointer border-x-[5px] border-b-[8px] border-x-transparent border-b-ochre"
                style={{ left: `${share(event.at, from, to) * 100}%` }}
                aria-label={`${KINDS[event.kind] ?? event.kind} at ${show(event.at)} s`}
                title={`${KINDS[event.kind] ?? event.kind} at ${show(event.at)} s, line ${event.line}${event.text ? `: ${event.text}` : ""}`}
                onClick={() => move(event.at)}
                onMouseDown={(pressed) => pressed.stopPropagation()}
              />
            ))}
        </div>
        {grips.map(({ bar, setting }, index) => (
          <TimeHandle key={`${setting.what}:${setting.line}:${setting.column}:${index}`} setting={setting} bar={bar} width={room} onMove={onMove} />
        ))}
      </div>
    </div>
  );
}

function linesOf(bar: Bar): string {
  return bar.line === bar.last_line ? `line ${bar.line}` : `lines ${bar.line} to ${bar.last_line}`;
}

function barWords(bar: Bar, lines: string[]): string {
  return bar.state === "many" ? `${linesOf(bar)}, ${bar.times} times` : `${bar.line} ${(lines[bar.line - 1] ?? "").trim()}`;
}

function barTitle(bar: Bar, lines: string[], run: Run): string {
  const when = `from ${show(bar.from)} s to ${show(bar.to)} s`;
  if (bar.state === "many") return `${counted(bar.times, "wait")} of ${linesOf(bar)} ${when}, too short to be seen apart. Press to look closer.`;
  const measured = run.events.find((event) => event.kind === "move" && event.line === bar.line)?.text;
  const what = bar.state === "waiting" ? "waits" : "looks again and again";
  return `Line ${bar.line} ${what} ${when}: ${(lines[bar.line - 1] ?? "").trim()}${measured ? `\n${measured}` : ""}`;
}
