import type { Run } from "../api/generated";
import { show } from "../model/numbers";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useAxis } from "./store";

interface Props {
  run: Run;
  lines: string[];
  lit: number | null;
  onLine: (line: number) => void;
  onHover: (line: number | null) => void;
}

const KINDS: Record<string, string> = { note: "Note", send: "Sent", patience: "Patience ran out", absent: "Absent reading", finish: "Finished", limit: "Limit" };

/** Which line waited when: a row for each lane of the program, the events in the first. */
export function ProgramLanes(props: Props) {
  const names = [...new Set(["begin", ...props.run.program.map((bar) => bar.lane)])];
  return names.map((name) => <ProgramLane key={name} {...props} name={name} />);
}

/** One lane. A wait is hatched; a loop that looks again and again is plain. */
function ProgramLane({ run, lines, lit, onLine, onHover, name }: Props & { name: string }) {
  const { from, to, move } = useAxis();
  const first = name === "begin";
  const seen = run.program.filter((bar) => bar.lane === name && bar.to >= from && bar.from <= to);
  return (
    <div className={`flex border-b border-rule ${first ? "h-[46px]" : "h-[36px]"}`} data-lane={first ? "program" : `program-${name}`}>
      <div className="flex shrink-0 flex-col justify-center pl-3" style={{ width: GUTTER }}>
        <span className={`leading-tight ${first ? "font-bold" : "pl-2"}`}>{first ? "program" : name}</span>
        {first && <span className="text-[13px] leading-tight text-soft">line and wait</span>}
      </div>
      <div className="relative flex-1 overflow-hidden" style={{ marginLeft: SCALE, marginRight: RIGHT }}>
        {seen.map((bar, index) => {
          const left = Math.max(0, share(bar.from, from, to)) * 100;
          const right = Math.min(1, share(bar.to, from, to)) * 100;
          const text = (lines[bar.line - 1] ?? "").trim();
          const measured = run.events.find((event) => event.kind === "move" && event.line === bar.line)?.text;
          const what = bar.state === "waiting" ? "waits" : "looks again and again";
          return (
            <button
              key={index}
              type="button"
              tabIndex={-1}
              className={`absolute top-[7px] h-[22px] overflow-hidden border-l-2 border-ink/60 pl-1 text-left text-[12px] leading-[22px] whitespace-nowrap ${
                bar.state === "waiting" ? "hatched" : ""
              } ${lit === bar.line ? "bg-leaf-wash" : "bg-sunk"}`}
              style={{ left: `${left}%`, width: `max(2px, ${right - left}%)` }}
              title={`Line ${bar.line} ${what} from ${show(bar.from)} s to ${show(bar.to)} s: ${text}${measured ? `\n${measured}` : ""}`}
              onClick={() => onLine(bar.line)}
              onMouseDown={(event) => event.stopPropagation()}
              onMouseEnter={() => onHover(bar.line)}
              onMouseLeave={() => onHover(null)}
            >
              <span className="num bg-sheet px-0.5">
                {bar.line} {text}
              </span>
            </button>
          );
        })}
        {run.events
          .filter((event) => first && event.kind !== "move" && event.at >= from && event.at <= to)
          .map((event, index) => (
            <button
              key={`event-${index}`}
              type="button"
              tabIndex={-1}
              className="absolute bottom-0 h-0 w-0 -translate-x-1/2 border-x-[5px] border-b-[8px] border-x-transparent border-b-ochre"
              style={{ left: `${share(event.at, from, to) * 100}%` }}
              aria-label={`${KINDS[event.kind] ?? event.kind} at ${show(event.at)} s`}
              title={`${KINDS[event.kind] ?? event.kind} at ${show(event.at)} s, line ${event.line}${event.text ? `: ${event.text}` : ""}`}
              onClick={() => move(event.at)}
            />
          ))}
      </div>
    </div>
  );
}
