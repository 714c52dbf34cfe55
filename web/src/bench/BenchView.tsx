import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";

import { useLanes } from "../api/hooks";
import type { Doing, Exercise, Floor, Hint, Lane, Part, Rig, Trace } from "../api/generated";
import type { World } from "../api/world";
import { ofRobot } from "../floors/geometry";
import { isWorktop, round } from "../floors/plan";
import { useLive, usePlayed } from "../live/useLive";
import { AS_IT_WAS, moved, numberText } from "../model/handles";
import type { Language } from "../model/languages";
import { instants } from "../model/signals";
import { useUndoKeys } from "../saving/undoKeys";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { CompareChoice, CompareLine, type Pinned } from "./Compare";
import type { EditorApi } from "./Editor";
import { Evidence } from "./Evidence";
import { Hands } from "./Hands";
import { KeepDialog } from "./KeepDialog";
import { LevelsDialog } from "./LevelsDialog";
import { LivePanel, LiveState } from "./LivePanel";
import type { OnMove } from "./moving";
import { PlacePane } from "./PlacePane";
import { ProgramPane } from "./ProgramPane";
import { RunLanes } from "./RunLanes";
import { TakeAway } from "./TakeAway";
import { poseAt } from "./ride";
import { startClock, useAxis, useSpan } from "./store";
import { Understood } from "./Understood";
import { Transport } from "./Transport";
import { useAnswer } from "./useAnswer";
import { useArrangement } from "./useArrangement";
import { useLaneActions } from "./useLaneActions";
import { useBenchKeys } from "./useBenchKeys";
import { useHands } from "./useHands";
import { Pane, Panes } from "../ui/Panes";
import { useSettled } from "../ui/useSettled";
import { endSentence, heardOf } from "./heard";
import { useLastGood } from "./useLastGood";
import { useSteps } from "./useSteps";
import { type Moment, useTrail } from "./useTrail";
import { useSize } from "./useSize";
import { useWhy } from "./useWhy";
import { WhyPanel } from "./WhyPanel";
import { room, useNamed, useVisibleLanes } from "./visible";

interface Props {
  title: ReactNode;
  /** What needs a decision before going on. */
  notice?: ReactNode;
  choices: ReactNode;
  rig: Rig;
  world: World;
  trace: Trace | null;
  floor: Floor | null;
  exercise: Exercise | null;
  text: string;
  /** What the text is written in, and the wordbooks that it is read with. */
  language?: Language;
  wordbooks?: number[];
  openAt: number | null;
  openCheck: string | null;
  /** Since which reading of the feed's clock, in s, the program is played along with live readings; null when it is not. */
  live?: number | null;
  /** What the arrangement of the lanes is remembered for. */
  remembers: string;
  /** Which of several places this is, where another one is another world: what hands do in one is not undone in another. */
  place?: string;
  /** The program whose run is drawn behind, in the place of the reference's, and what else could be. */
  pinned: Pinned | null;
  others?: { label: string; load: () => Promise<Pinned> }[];
  onPin: (pinned: Pinned | null) => void;
  onText: (text: string) => void;
  onWorld: (world: World) => void;
}

const NO_HINTS: Hint[] = [];
const NO_BOOKS: number[] = [];
const NO_LINES: number[] = [];
const NO_READINGS: Lane[] = [];
const NO_OTHERS: NonNullable<Props["others"]> = [];
/** How much of what comes is seen, in s. */
const LIVE_SPAN = 20;
const COLUMNS = 900;
const FLOOR_LIMIT = 60;

/** Program text, and everything that happens in its run on one time axis. */
export function BenchView(props: Props) {
  const { rig, world, exercise, text, onText, onWorld, language = "notation", wordbooks = NO_BOOKS, live = null, place = "", pinned, others = NO_OTHERS } = props;
  const [trace, floor] = live === null ? [props.trace, props.floor] : [null, null];
  const [lit, setLit] = useState<number | null>(null);
  const [chosen, setChosen] = useState<string | null>(props.openCheck);
  const [allLanes, setAllLanes] = useState(false);
  const [aloud, setAloud] = useState(false);
  const editor = useRef<EditorApi | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const { from, to, end } = useSpan();
  const seen = useSettled(useMemo(() => (from <= 0 && to >= end ? null : { from, to, columns: COLUMNS }), [from, to, end]), 120);
  const subject = useMemo(
    () => ({
      ...world,
      rig: rig.id,
      text,
      language,
      wordbooks,
      checks: exercise?.checks ?? "",
      reference: exercise?.reference ?? "",
      behind: pinned && { text: pinned.text, language: pinned.language },
    }),
    [rig.id, text, language, wordbooks, world, exercise, pinned],
  );
  const question = useMemo(() => ({ ...subject, understood: aloud, window: seen }), [subject, aloud, seen]);
  const { ask, ...bench } = useAnswer(question);
  const write = useCallback(
    (next: string) => {
      ask({ ...question, text: next });
      onText(next);
    },
    [ask, question, onText],
  );
  const comes = useLive(rig.id, live !== null).data;
  const played = usePlayed(rig.id, text, live);
  const told = live === null ? bench.data : played.data;
  const { answer, stale, good } = useLastGood(told, text, world);
  const run = answer?.run ?? null;
  const placed = live !== null || trace !== null || floor !== null || world.lasts !== null;
  const longest = trace ? trace.duration_us / 1e6 : floor ? (world.limit ?? FLOOR_LIMIT) : (world.lasts ?? 1);
  const duration = Math.min(longest, world.limit ?? Infinity);
  const recorded = useLanes(trace?.id ?? null, seen?.from ?? 0, seen?.to ?? duration, COLUMNS);
  const readings = run?.readings ?? (floor ? undefined : recorded.data?.lanes);
  const known = !recorded.isLoading; // lanes of readings stand before the others, which must not jump when they come
  const restore = useCallback(
    (moment: Moment) => {
      if (moment.text !== text) onText(moment.text);
      if (moment.place === place && moment.world !== world) onWorld(moment.world);
    },
    [text, world, place, onText, onWorld],
  );
  const trail = useTrail(useMemo(() => ({ text, world, place }), [text, world, place]), restore);
  useUndoKeys(trail.undo, trail.redo);
  const onDoings = useCallback((doings: Doing[]) => onWorld({ ...world, doings }), [onWorld, world]);
  const hands = useHands(world.doings, onDoings, trail.begin);
  const { arrangement, change: arrange } = useArrangement(props.remembers);
  const why = useWhy(subject);
  const [levels, setLevels] = useState<Part | null>(null);
  const [handy, setHandy] = useState(false);
  const [keeping, setKeeping] = useState(false);

  useEffect(startClock, []);
  useEffect(() => {
    if (live === null) useAxis.getState().setEnd(duration);
  }, [live, duration]);
  const last = live === null ? null : (run?.lasted ?? 0);
  useEffect(() => {
    if (last !== null) useAxis.getState().follow(last, LIVE_SPAN);
  }, [last]);
  useEffect(() => {
    const [first, after] = (new URLSearchParams(location.search).get("seen") ?? "").split("-").map(Number);
    if (first !== undefined && after !== undefined && after > first) useAxis.getState().look(first, after);
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
  const step = useSteps(moments);
  useBenchKeys(step);

  const { begin } = trail;
  const moveHandle = useCallback<OnMove>(
    (places, value, step, gesture) => {
      begin(gesture);
      editor.current?.replaceNumbers(places.map((place) => ({ line: place.line, column: place.column, unit: place.unit, text: numberText(place, value, step) })));
    },
    [begin],
  );
  const toLine = useCallback((line: number) => editor.current?.goTo(line), []);

  const named = useNamed(rig, text, exercise?.checks ?? "");
  const lanes = useVisibleLanes(rig, named, readings, run?.outputs, allLanes, arrangement);
  const growth = room(height, lanes, run, answer?.checks.length ?? 0);
  const hints = told?.hints ?? NO_HINTS;
  // where a program that is played along waits now
  const waiting = useMemo(() => (last === null ? NO_LINES : (run?.program ?? []).filter((bar) => bar.to >= last - 1e-6).map((bar) => bar.line)), [run, last]);
  const litLines = useMemo(() => (lit === null ? waiting : [lit]), [lit, waiting]);
  const heard = useSettled(useMemo(() => heardOf(told), [told]), 700);
  const verdict = answer?.checks.find((check) => check.title === chosen) ?? null;
  const thresholds = useMemo(() => moved(answer?.thresholds ?? [], answer?.settings ?? []), [answer]);

  const actions = useLaneActions({ lanes, arrangement, arrange, box, editor, onWhy: why.ofOutput, onLevels: trace ? setLevels : undefined });
  const behind = pinned?.label ?? (exercise?.reference && exercise.reference !== text && answer?.behind ? "the reference" : null);

  const holdHand = () => {
    const { cursor } = useAxis.getState();
    const pose = run?.ride ? poseAt(run.ride, cursor) : null;
    if (!pose) return;
    const [x, y] = ofRobot(38, 0, pose.at, pose.heading);
    hands.act({ at: cursor, name: "hand.x", value: round(x) }, { at: cursor, name: "hand.y", value: round(y) });
  };
  const panel = (
    <Hands
      rig={rig}
      doings={world.doings}
      named={named}
      onDo={hands.act}
      onUndo={trail.undo}
      onClear={hands.clear}
      onHand={floor && !isWorktop(floor.source) && run?.ride ? holdHand : undefined}
      onKeep={() => setKeeping(true)}
    />
  );

  return (
    <>
      <Panes id={aloud ? "bench-understood" : "bench"} narrow={800}>
        <Pane id="program" size={aloud ? "28%" : "36%"} least={300} low="340px">
          <ProgramPane
            title={props.title}
            notice={props.notice}
            rig={rig}
            trace={trace}
            readings={readings ?? NO_READINGS}
            text={text}
            language={language}
            hints={hints}
            lit={litLines}
            heard={heard}
            trail={trail}
            editorRef={editor}
            aloud={aloud}
            onAloud={setAloud}
            onReady={(api) => (editor.current = api)}
            onText={write}
            onHover={setLit}
            onWhyNot={run && live === null ? why.ofLine : undefined}
          />
        </Pane>
        {aloud && (
          <Pane id="understood" bar="Width of the program" size="24%" least={230} low="300px">
            <Understood
              lines={told?.understood ?? []}
              unread={hints.some((hint) => hint.level === "error")}
              lit={lit}
              onHover={setLit}
              onLine={toLine}
            />
          </Pane>
        )}
        <Pane id="run" bar={aloud ? "Width of what was understood" : "Width of the program"} least={380} low="620px">
          <section className="flex h-full min-w-0 flex-col" aria-label="Run">
            <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-3 py-2">
              {props.choices}
              {live === null ? <Transport onStep={step} /> : <LiveState live={comes} since={live} />}
            </div>
            {live === null && behind !== null && <CompareLine label={behind} answer={answer} onClose={pinned ? () => props.onPin(null) : undefined} />}
            <div className="min-h-0 flex-1">
              <Panes id="run" upright>
                {floor && (
                  <Pane id="place" size={318} least={150} keeps>
                    <PlacePane rig={rig} floor={floor} world={world} run={run} named={named} onDo={hands.act}>
                      {panel}
                    </PlacePane>
                  </Pane>
                )}
                <Pane id="lanes" bar="Height of the floor" least={110}>
                  <div className="flex h-full min-h-0">
                  <div ref={box} className="min-h-0 min-w-0 flex-1 overflow-y-auto" data-waiting={waiting.join(" ")}>
                    {live === null ? bench.error !== null && <Trouble error={bench.error} /> : played.error && <Trouble error={played.error} />}
                    {told?.world_problem && (
                      <p className="m-3 rounded border border-clay bg-clay-wash px-3 py-2" role="alert">
                        {told.world_problem.message} {told.world_problem.remedy}
                      </p>
                    )}
                    {!placed && <p className="p-6">Choose a trace or a floor above: the program then runs there as you type.</p>}
                    {placed && known && width > 0 && (
                      <RunLanes
                        rig={rig}
                        world={world}
                        answer={answer}
                        stale={stale}
                        lanes={lanes}
                        growth={growth}
                        width={width}
                        lines={good.lines}
                        handles={thresholds}
                        lit={lit}
                        chosen={chosen}
                        instead={told?.world_problem ? "Nothing ran there." : told ? notRun(hints) : "Running …"}
                        why={why.told?.kind === "output" && why.told.told.line ? why.told.told : null}
                        arrangement={arrangement}
                        actions={actions}
                        onMove={moveHandle}
                        onLine={toLine}
                        onHover={setLit}
                        onCheck={setChosen}
                      />
                    )}
                    {placed && (
                      <div className="flex items-center justify-between gap-3 px-3 py-2 text-[13px] text-soft">
                        <span>
                          {run ? endSentence(live !== null && run.why === "time" ? "live" : run.why, run.ended_at, run.said) : ""} {run && live === null ? trustSentence(run.trust) : ""}
                        </span>
                        <span className="flex-1" />
                        {!floor && live === null && (
                          <Button small active={handy} aria-pressed={handy} onClick={() => setHandy(!handy)} title="Turn, press and send by hand while it runs">
                            Hands
                          </Button>
                        )}
                        {run && (
                          <TakeAway
                            text={text}
                            rig={rig}
                            trace={trace}
                            floor={floor}
                            answer={answer}
                            lanes={lanes}
                            thresholds={thresholds}
                            chosen={chosen}
                            namesTrace={props.remembers.startsWith("behaviour")}
                          />
                        )}
                        {live === null && placed && <CompareChoice pinned={pinned} others={others} now={{ label: "", text, language }} onPin={props.onPin} />}
                        {(allLanes || lanes.hidden > 0) && (
                          <Button
                            small
                            onClick={() => {
                              if (!allLanes) arrange({ hidden: [] });
                              setAllLanes(!allLanes);
                            }}
                            aria-pressed={allLanes}
                          >
                            {allLanes ? "Hide quiet lanes" : lanes.hidden === 1 ? "Show 1 more lane" : `Show ${lanes.hidden} more lanes`}
                          </Button>
                        )}
                      </div>
                    )}
                  </div>
                  {!floor && live === null && handy && panel}
                  {live !== null && <LivePanel live={comes} named={named} text={text} thresholds={thresholds} />}
                  </div>
                </Pane>
              </Panes>
            </div>
            {why.error && <Trouble error={why.error} />}
            {why.told && <WhyPanel told={why.told} onLine={toLine} onClose={why.close} />}
            {verdict && (
              <Evidence verdict={verdict} onClose={() => setChosen(null)}>
                {verdict.at !== null &&
                  lanes.outputs.slice(0, 4).map(({ part }) => (
                    <Button key={part.name} small onClick={() => why.ofOutput(part.name, verdict.at ?? 0)}>
                      Why was {part.name} so then?
                    </Button>
                  ))}
              </Evidence>
            )}
          </section>
        </Pane>
      </Panes>
      {trace && (
        <LevelsDialog
          part={levels}
          trace={trace.id}
          text={text}
          handles={thresholds}
          onMove={(places, value) => moveHandle(places, value, AS_IT_WAS, "suggested")}
          onText={onText}
          onClose={() => setLevels(null)}
        />
      )}
      <KeepDialog open={keeping} rig={rig} world={world} text={text} language={language} wordbooks={wordbooks} onClose={() => setKeeping(false)} />
    </>
  );
}

function notRun(hints: Hint[]): string {
  return hints.some((hint) => hint.level === "error")
    ? "The program has errors, so nothing ran. The messages under the text say what to mend."
    : "A library is not run by itself: the behaviours that include it are.";
}

function trustSentence(trust: Record<string, number>): string {
  const from = Math.min(...Object.values(trust));
  return Number.isFinite(from)
    ? `Hatched from ${from.toFixed(2)} s on: there the program drives differently from the recording, so these readings are not to be trusted.`
    : "";
}
