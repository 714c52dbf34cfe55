import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";

import { useBench, useLanes, useNotation } from "../api/hooks";
import type { Exercise, Hint, Lane, Part, Rig, Run, Threshold, Trace, Verdict } from "../api/types";
import { distinct, numberText } from "../model/handles";
import { marginWords } from "../model/verdicts";
import { instants, isLively } from "../model/signals";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { VerdictMark } from "../ui/VerdictMark";
import { CheckLanes } from "./CheckLanes";
import { Editor, type EditorApi } from "./Editor";
import { Lanes } from "./Lanes";
import { Messages } from "./Messages";
import { notation } from "./notation";
import { ProgramLanes } from "./ProgramLane";
import { SignalLane } from "./SignalLane";
import { startClock, useAxis } from "./store";
import { TextLane } from "./TextLane";
import { TimeAxis } from "./TimeAxis";
import { Transport } from "./Transport";
import { useBenchKeys } from "./useBenchKeys";
import { useSettled } from "./useSettled";
import { useSize } from "./useSize";

interface Props {
  title: ReactNode;
  choices: ReactNode;
  rig: Rig;
  trace: Trace | null;
  exercise: Exercise | null;
  limit: number | null;
  text: string;
  openAt: number | null;
  openCheck: string | null;
  onText: (text: string) => void;
}

const NO_HINTS: Hint[] = [];
const COLUMNS = 900;

/** Program text, and everything that happens in its run on one time axis. */
export function BenchView(props: Props) {
  const { rig, trace, exercise, text } = props;
  const words = useNotation().data;
  const [lit, setLit] = useState<number | null>(null);
  const [chosen, setChosen] = useState<string | null>(props.openCheck);
  const [allLanes, setAllLanes] = useState(false);
  const editor = useRef<EditorApi | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const { from, to, end } = useAxis();
  const seen = useSettled(useMemo(() => (from <= 0 && to >= end ? null : { from, to, columns: COLUMNS }), [from, to, end]), 120);
  const question = useMemo(
    () => ({
      rig: rig.id,
      text,
      trace: trace?.id ?? null,
      checks: exercise?.checks ?? "",
      reference: exercise?.reference ?? "",
      limit: props.limit,
      window: seen,
    }),
    [rig.id, text, trace?.id, exercise, props.limit, seen],
  );
  const bench = useBench(useSettled(question, 25));
  const answer = bench.data;
  const run = answer?.run ?? null;
  const duration = trace ? Math.min(trace.duration_us / 1e6, props.limit ?? Infinity) : 1;
  const readings = useLanes(trace?.id ?? null, seen?.from ?? 0, seen?.to ?? duration, COLUMNS);
  const extensions = useMemo(() => (words ? notation(words, rig) : []), [words, rig]);

  useEffect(startClock, []);
  useEffect(() => useAxis.getState().setEnd(duration), [duration]);
  useEffect(() => {
    if (props.openAt !== null) useAxis.getState().move(props.openAt);
  }, [props.openAt, duration]);

  const moments = useMemo(
    () =>
      instants([
        run?.program.flatMap((bar) => [bar.from, bar.to]) ?? [],
        run?.events.map((event) => event.at) ?? [],
        run?.outputs.flatMap((lane) => lane.times) ?? [],
        answer?.checks.flatMap((check) => (check.at === null ? [] : [check.at])) ?? [],
      ]),
    [run, answer],
  );
  const step = useCallback(
    (direction: 1 | -1) => {
      const { cursor, move, play } = useAxis.getState();
      play(false);
      const next = direction > 0 ? moments.find((at) => at > cursor + 1e-6) : moments.findLast((at) => at < cursor - 1e-6);
      if (next !== undefined) move(next);
    },
    [moments],
  );
  useBenchKeys(step);

  const moveHandle = useCallback((handle: Threshold, value: number, fine: boolean) => {
    editor.current?.replaceNumber(handle.line, handle.column, handle.unit, numberText(handle, value, fine));
  }, []);

  const lines = useMemo(() => text.split("\n"), [text]);
  const lanes = useVisibleLanes(props, readings.data?.lanes, run?.outputs, allLanes);
  const growth = room(height, lanes, run, answer?.checks.length ?? 0);
  const hints = answer?.hints ?? NO_HINTS;
  const verdict = answer?.checks.find((check) => check.title === chosen) ?? null;
  const handles = useMemo(() => distinct(answer?.thresholds ?? []), [answer]);

  return (
    <div className="flex h-full min-h-0">
      <section className="flex w-[35%] max-w-[540px] min-w-[340px] flex-col border-r border-rule bg-sheet" aria-label="Program">
        <div className="border-b border-rule px-3 py-2">{props.title}</div>
        <div className="min-h-0 flex-1">
          <Editor
            label="Program text. Escape, then Tab leaves it."
            text={text}
            hints={hints}
            notation={extensions}
            lit={lit}
            onChange={props.onText}
            onHoverLine={setLit}
            onReady={(api) => (editor.current = api)}
          />
        </div>
        <div className="max-h-[34%] overflow-auto border-t border-rule" aria-live="polite">
          <Messages hints={hints} onLine={(line) => editor.current?.goTo(line)} onFix={(hint) => editor.current?.mend(hint)} />
        </div>
      </section>
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Run">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-3 py-2">
          {props.choices}
          <Transport onStep={step} />
        </div>
        <div ref={box} className="min-h-0 flex-1 overflow-y-auto">
          {bench.error && <Trouble error={bench.error} />}
          {!trace && <p className="p-6">Choose a trace above: the program then runs on it as you type.</p>}
          {trace && width > 0 && (
            <Lanes width={width}>
              <TimeAxis width={width} />
              {lanes.readings.map(({ part, lane }) => lane.texts ? <TextLane key={part.name} part={part} lane={lane} width={width} /> : (
                <SignalLane
                  key={part.name}
                  part={part}
                  lane={lane}
                  width={width}
                  height={part.contact ? 40 : Math.round((lanes.readings.length > 4 ? 62 : 78) * growth)}
                  handles={handles.filter((handle) => handle.part === part.name)}
                  trust={run?.trust[part.name]}
                  onHandle={moveHandle}
                />
              ))}
              {run ? (
                <>
                  <ProgramLanes
                    run={run}
                    lines={lines}
                    lit={lit}
                    onHover={setLit}
                    onLine={(line) => editor.current?.goTo(line)}
                  />
                  {lanes.outputs.map(({ part, lane }) => (
                    <SignalLane
                      key={part.name}
                      part={part}
                      lane={lane}
                      ghost={answer?.reference?.find((ghost) => ghost.part === part.name)}
                      width={width}
                      height={Math.round(54 * growth)}
                      handles={[]}
                      control={run.controls[part.name]}
                      onHandle={moveHandle}
                    />
                  ))}
                  <CheckLanes checks={answer?.checks ?? []} chosen={chosen} onChoose={setChosen} />
                </>
              ) : (
                <p className="relative z-30 border-b border-rule bg-paper px-3 py-4 text-[14px]">
                  {answer ? notRun(hints) : "Running …"}
                </p>
              )}
            </Lanes>
          )}
          {trace && (
            <div className="flex items-center justify-between gap-3 px-3 py-2 text-[13px] text-soft">
              <span>
                {run ? endSentence(run.why, run.ended_at, run.said) : ""} {run ? trustSentence(run.trust) : ""}
              </span>
              {(allLanes || lanes.hidden > 0) && (
                <Button small onClick={() => setAllLanes(!allLanes)} aria-pressed={allLanes}>
                  {allLanes ? "Hide quiet lanes" : lanes.hidden === 1 ? "Show 1 more lane" : `Show ${lanes.hidden} more lanes`}
                </Button>
              )}
            </div>
          )}
        </div>
        {verdict && <Evidence verdict={verdict} onClose={() => setChosen(null)} />}
      </section>
    </div>
  );
}

/** How much taller the signals may be drawn than they must be, so that a few lanes fill the view. */
function room(height: number, lanes: { readings: { part: Part; lane: Lane }[]; outputs: unknown[] }, run: Run | null | undefined, checks: number): number {
  const tall = lanes.readings.filter(({ part, lane }) => !part.contact && !lane.texts).length;
  const signals = tall * (lanes.readings.length > 4 ? 62 : 78) + lanes.outputs.length * 54;
  const rows = new Set(run?.program.map((bar) => bar.lane)).size;
  const others = 130 + (lanes.readings.length - tall) * 40 + rows * 36 + checks * 32;
  return Math.min(1.9, Math.max(1, (height - others) / Math.max(1, signals)));
}

/** The lanes worth seeing: those the program or the checks name, and outputs that move. */
function useVisibleLanes(props: Props, readings: Lane[] | undefined, outputs: Lane[] | undefined, all: boolean) {
  const { rig, text, exercise } = props;
  return useMemo(() => {
    const words = new Set(`${text}\n${exercise?.checks ?? ""}`.match(/[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}_]+)?/gu) ?? []);
    if (words.has("message")) rig.parts.filter((part) => part.says).forEach((part) => words.add(part.name));
    const find = (list: Lane[] | undefined, role: string) =>
      [...rig.parts, ...rig.properties]
        .filter((part) => part.role === role)
        .flatMap((part) => {
          const lane = list?.find((item) => item.part === part.name);
          return lane ? [{ part, lane }] : [];
        });
    const sensors = find(readings, "sensor");
    const motors = find(outputs, "output");
    const seenSensors = sensors.filter(({ part }) => all || words.has(part.name));
    const seenMotors = motors.filter(({ part, lane }) => all || isLively(lane) || words.has(part.name));
    const hidden = sensors.length - seenSensors.length + motors.length - seenMotors.length;
    return { readings: seenSensors.length ? seenSensors : sensors, outputs: seenMotors, hidden };
  }, [rig, text, exercise, readings, outputs, all]);
}

function notRun(hints: Hint[]): string {
  return hints.some((hint) => hint.level === "error")
    ? "The program has errors, so nothing ran. The messages under the text say what to mend."
    : "A library is not run by itself: the behaviours that include it are.";
}

function endSentence(why: string, at: number, said: string): string {
  const time = at.toFixed(2);
  switch (why) {
    case "finished":
      return `The program finished${said ? `, saying "${said}",` : ""} at ${time} s.`;
    case "time":
      return "The program was still running when the trace ended.";
    default:
      return `A limit ended the run at ${time} s.`;
  }
}

function trustSentence(trust: Record<string, number>): string {
  const from = Math.min(...Object.values(trust));
  return Number.isFinite(from)
    ? `Hatched from ${from.toFixed(2)} s on: there the program drives differently from the recording, so these readings are not to be trusted.`
    : "";
}

function Evidence({ verdict, onClose }: { verdict: Verdict; onClose: () => void }) {
  const margin = marginWords(verdict.margin, verdict.unit);
  return (
    <div className="flex items-start gap-2.5 border-t border-rule bg-sheet px-3 py-2.5" role="status" data-evidence="">
      <VerdictMark verdict={verdict.verdict} size={20} />
      <div className="flex-1 text-[14px] leading-snug">
        <span className="font-bold">
          {verdict.title}: {verdict.verdict}
        </span>
        <span className="num text-soft">
          {" "}
          · {Number(verdict.points.toFixed(2))} of {verdict.of} points{margin && ` · ${margin}`}
        </span>
        <p>{verdict.because}</p>
      </div>
      <Button small onClick={onClose}>
        Close
      </Button>
    </div>
  );
}
