import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";

import { useLanes, useNotation } from "../api/hooks";
import type { Doing, Exercise, Floor, Hint, Lane, Part, Rig, Trace } from "../api/generated";
import type { World } from "../api/world";
import { ofRobot } from "../floors/geometry";
import { isWorktop, planOf, round } from "../floors/plan";
import { fit } from "../floors/view";
import { useLive, usePlayed } from "../live/useLive";
import { AS_IT_WAS, moved, numberText } from "../model/handles";
import type { Language } from "../model/languages";
import { instants } from "../model/signals";
import { placeBelow } from "../model/steps";
import { floorPicture } from "../picture/floor";
import { lanesPicture } from "../picture/lanes";
import { PictureMenu } from "../picture/PictureMenu";
import { useUndoKeys } from "../saving/undoKeys";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { CompareChoice, CompareLine, type Pinned } from "./Compare";
import { Editor, type EditorApi } from "./Editor";
import { Evidence } from "./Evidence";
import { Dials } from "./Dials";
import { FloorPane } from "./FloorPane";
import { Hands } from "./Hands";
import { KeepDialog } from "./KeepDialog";
import { LevelsDialog } from "./LevelsDialog";
import { LivePanel, LiveState } from "./LivePanel";
import { codeIn } from "./languages";
import { Messages } from "./Messages";
import { notation } from "./notation";
import type { OnMove } from "./moving";
import { RunLanes } from "./RunLanes";
import { StepInserter } from "./StepInserter";
import { StepList } from "./StepList";
import { Split } from "./Split";
import { poseAt } from "./ride";
import { startClock, useAxis, useSpan } from "./store";
import { Understood } from "./Understood";
import { Transport } from "./Transport";
import { useAnswer } from "./useAnswer";
import { useArrangement } from "./useArrangement";
import { useLaneActions } from "./useLaneActions";
import { useBenchKeys } from "./useBenchKeys";
import { useHands } from "./useHands";
import { useSettled } from "../ui/useSettled";
import { endSentence, heardOf } from "./heard";
import { useLastGood } from "./useLastGood";
import { useSteps } from "./useSteps";
import { type Moment, useTrail } from "./useTrail";
import { useSize } from "./useSize";
import { useWhy } from "./useWhy";
import { WhyPanel } from "./WhyPanel";
import { WorktopPane } from "./WorktopPane";
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
  const { rig, world, exercise, text, onText, onWorld, language = "notation", wordbooks = NO_BOOKS, live = null, pinned, others = NO_OTHERS } = props;
  const [trace, floor] = live === null ? [props.trace, props.floor] : [null, null];
  const words = useNotation().data;
  const [lit, setLit] = useState<number | null>(null);
  const [chosen, setChosen] = useState<string | null>(props.openCheck);
  const [allLanes, setAllLanes] = useState(false);
  const [aloud, setAloud] = useState(false);
  const editor = useRef<EditorApi | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const { from, to, end } = useSpan();
  const seen = useSettled(useMemo(() => (from <= 0 && to >= end ? null : { from, to, columns: COLUMNS }), [from, to, end]), 120);
  const question = useMemo(
    () => ({
      ...world,
      rig: rig.id,
      text,
      language,
      wordbooks,
      checks: exercise?.checks ?? "",
      reference: exercise?.reference ?? "",
      behind: pinned && { text: pinned.text, language: pinned.language },
      understood: aloud,
      window: seen,
    }),
    [rig.id, text, language, wordbooks, world, exercise, pinned, aloud, seen],
  );
  const bench = useAnswer(question);
  const comes = useLive(rig.id, live !== null).data;
  const played = usePlayed(rig.id, text, live);
  const told = live === null ? bench.data : played.data;
  const { answer, stale, good } = useLastGood(told, text, world);
  const run = answer?.run ?? null;
  const placed = live !== null || trace !== null || floor !== null || world.lasts !== null;
  const longest = trace ? trace.duration_us / 1e6 : floor ? (world.limit ?? FLOOR_LIMIT) : (world.lasts ?? 1);
  const duration = Math.min(longest, world.limit ?? Infinity);
  const recorded = useLanes(trace?.id ?? null, seen?.from ?? 0, seen?.to ?? duration, COLUMNS).data?.lanes;
  const readings = run?.readings ?? (floor ? undefined : recorded);
  const restore = useCallback(
    (moment: Moment) => {
      if (moment.text !== text) onText(moment.text);
      if (moment.world !== world) onWorld(moment.world);
    },
    [text, world, onText, onWorld],
  );
  const trail = useTrail(useMemo(() => ({ text, world }), [text, world]), restore);
  useUndoKeys(trail.undo, trail.redo);
  const onDoings = useCallback((doings: Doing[]) => onWorld({ ...world, doings }), [onWorld, world]);
  const hands = useHands(world.doings, onDoings, trail.begin);
  const { arrangement, change: arrange } = useArrangement(props.remembers);
  const why = useWhy(question);
  const [levels, setLevels] = useState<Part | null>(null);
  const [at, setAt] = useState(1); // the line on which the text's cursor stands
  const [asSteps, setAsSteps] = useState(false);
  const [inserting, setInserting] = useState(false);
  const [handy, setHandy] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const [floorHeight, setFloorHeight] = useState(318);
  const extensions = useMemo(() => (language !== "notation" ? codeIn(language) : words ? notation(words, rig) : []), [words, rig, language]);

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
  const insertStep = (form: string) => {
    setAsSteps(false); // its slots are gone through in the text
    const { after, indent } = placeBelow(text, at);
    setTimeout(() => editor.current?.insertBelow(form, after, indent), 60); // the dialog gives the focus back first
  };
  const mend = useCallback((hint: Hint) => editor.current?.mend(hint), []);
  const toLine = useCallback((line: number) => editor.current?.goTo(line), []);

  const lines = useMemo(() => text.split("\n"), [text]);
  const named = useNamed(rig, text, exercise?.checks ?? "");
  const lanes = useVisibleLanes(rig, named, readings, run?.outputs, allLanes, arrangement);
  const turning = useMemo(() => rig.parts.filter((part) => part.turns && named.has(part.name)).map((part) => part.name), [rig, named]);
  const growth = room(height, lanes, run, answer?.checks.length ?? 0);
  const hints = told?.hints ?? NO_HINTS;
  // where a program that is played along waits now
  const waiting = useMemo(() => (last === null ? NO_LINES : (run?.program ?? []).filter((bar) => bar.to >= last - 1e-6).map((bar) => bar.line)), [run, last]);
  const litLines = useMemo(() => (lit === null ? waiting : [lit]), [lit, waiting]);
  const heard = useSettled(useMemo(() => heardOf(told), [told]), 700);
  const verdict = answer?.checks.find((check) => check.title === chosen) ?? null;
  const thresholds = useMemo(() => moved(answer?.thresholds ?? [], answer?.settings ?? []), [answer]);

  const actions = useLaneActions({ lanes, arrangement, arrange, box, editor, onWhy: why.ofOutput, onLevels: trace ? setLevels : undefined });
  const drawLanes = () => {
    const { from: first, to: after } = useAxis.getState();
    const drawn = ({ part, lane }: { part: Part; lane: Lane }) => ({
      part,
      lane,
      ghost: answer?.behind?.find((ghost) => ghost.part === part.name),
      handles: thresholds.filter((handle) => handle.part === part.name).map((handle) => handle.value),
    });
    const where = trace?.name ?? floor?.name ?? "nothing but time";
    return lanesPicture({
      title: titleIn(text),
      below: `On ${where}, with the rig ${rig.name}. Time in s.`,
      from: first,
      to: after,
      readings: lanes.readings.map(drawn),
      outputs: lanes.outputs.map(drawn),
      run,
      lines,
      checks: answer?.checks ?? [],
    });
  };
  const drawFloor = () => {
    const box = document.querySelector("section[aria-label='Floor']");
    const drawn = [...(box?.querySelectorAll<SVGSVGElement>("div > svg") ?? [])];
    const size = drawn[0]?.getBoundingClientRect();
    if (!floor || !size) return null;
    const view = fit(planOf(floor.source).size, size.width, size.height);
    return floorPicture(`${titleIn(text)} on ${floor.name}`, drawn, view, run, Math.round(size.width), Math.round(size.height));
  };
  const linkHere = () => {
    const address = new URL(location.href);
    const { cursor, from: first, to: after, end: all } = useAxis.getState();
    address.searchParams.set("at", cursor.toFixed(3));
    if (first > 0 || after < all) address.searchParams.set("seen", `${first.toFixed(3)}-${after.toFixed(3)}`);
    if (trace && props.remembers.startsWith("behaviour")) address.searchParams.set("trace", String(trace.id));
    if (chosen) address.searchParams.set("check", chosen);
    return address.href;
  };
  const behind = pinned?.label ?? (exercise?.reference && answer?.behind ? "the reference" : null);

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
    <div className="flex h-full min-h-0">
      <section
        className={`relative flex max-w-[540px] flex-col border-r border-rule bg-sheet ${aloud ? "w-[28%] min-w-[300px]" : "w-[35%] min-w-[340px]"}`}
        aria-label="Program"
      >
        <div className="border-b border-rule px-3 py-2">
          {props.title}
          <div className="mt-2 flex flex-wrap gap-1.5">
            {language === "notation" ? (
              <>
                <Button small active={!asSteps} aria-pressed={!asSteps} onClick={() => setAsSteps(false)}>
                  Text
                </Button>
                <Button small active={asSteps} aria-pressed={asSteps} onClick={() => setAsSteps(true)}>
                  Steps
                </Button>
                <span className="flex-1" />
                {!asSteps && (
                  <Button small onClick={() => setInserting(true)} title="Ctrl+Enter in the text" aria-keyshortcuts="Control+Enter">
                    New step …
                  </Button>
                )}
              </>
            ) : (
              <Button small active={aloud} aria-pressed={aloud} onClick={() => setAloud(!aloud)}>
                What Geduld understood
              </Button>
            )}
          </div>
        </div>
        {props.notice}
        {asSteps && (
          <div className="min-h-0 flex-1">
            <StepList text={text} lit={litLines} line={at} onLine={setAt} onHover={setLit} onText={onText} onInsert={() => setInserting(true)} />
          </div>
        )}
        <div className={asSteps ? "hidden" : "min-h-0 flex-1"}>
          <Editor
            label="Program text. Escape, then Tab leaves it."
            text={text}
            hints={hints}
            notation={extensions}
            lit={litLines}
            trail={trail}
            onChange={onText}
            onHoverLine={setLit}
            onLine={setAt}
            onInsert={() => setInserting(true)}
            onReady={(api) => (editor.current = api)}
          />
        </div>
        <p className="sr-only" role="status">{heard}</p>
        <div className="relative max-h-[34%] overflow-auto border-t border-rule">
          {run && language === "notation" && live === null && (
            <p className="float-right mt-1.5 mr-2">
              <Button small onClick={() => why.ofLine(at)} title="Whether the line on which the cursor stands ran, and if not, what kept it from that">
                Did line {at} run?
              </Button>
            </p>
          )}
          <Messages hints={hints} onLine={toLine} onFix={mend} />
        </div>
      </section>
      {aloud && (
        <Understood
          lines={told?.understood ?? []}
          unread={hints.some((hint) => hint.level === "error")}
          lit={lit}
          onHover={setLit}
          onLine={toLine}
        />
      )}
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Run">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-3 py-2">
          {props.choices}
          {live === null ? <Transport onStep={step} /> : <LiveState live={comes} since={live} />}
        </div>
        {live === null && behind !== null && <CompareLine label={behind} answer={answer} onClose={pinned ? () => props.onPin(null) : undefined} />}
        {floor && (
          <>
            {world.faults.length > 0 && (
              <p className="border-b border-rule bg-ochre-wash px-3 py-1 text-[14px]" data-with-faults="">
                This robot has {world.faults.length === 1 ? "a fault" : "faults"}: {world.faults.join(", ")}.
              </p>
            )}
            <div className="flex min-h-0 shrink-0 border-b border-rule" style={{ height: floorHeight }}>
              {isWorktop(floor.source) ? (
                <WorktopPane rig={rig} run={run} />
              ) : (
                <>
                  <FloorPane rig={rig} floor={floor} run={run} doings={world.doings} onDo={hands.act} />
                  {turning.length > 0 && (
                    <div className="w-[100px] shrink-0 overflow-y-auto border-l border-rule py-1.5" tabIndex={0} role="group" aria-label="What turns beside the wheels">
                      <Dials rig={rig} run={run} only={turning} />
                    </div>
                  )}
                </>
              )}
              {panel}
            </div>
            <Split label="Height of the floor" value={floorHeight} least={180} most={620} onChange={setFloorHeight} />
          </>
        )}
        <div className="flex min-h-0 flex-1">
        <div ref={box} className="min-h-0 min-w-0 flex-1 overflow-y-auto" data-waiting={waiting.join(" ")}>
          {live === null ? bench.error && <Trouble error={bench.error} /> : played.error && <Trouble error={played.error} />}
          {told?.world_problem && (
            <p className="m-3 rounded border border-clay bg-clay-wash px-3 py-2" role="alert">
              {told.world_problem.message} {told.world_problem.remedy}
            </p>
          )}
          {!placed && <p className="p-6">Choose a trace or a floor above: the program then runs there as you type.</p>}
          {placed && width > 0 && (
            <RunLanes
              rig={rig}
              world={world}
              answer={answer}
              stale={stale}
              lanes={lanes}
              growth={growth}
              width={width}
              lines={stale ? good.lines : lines}
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
                <PictureMenu
                  link={linkHere}
                  pictures={[
                    { label: "These lanes", name: `${titleIn(text)} lanes`, draw: drawLanes },
                    ...(floor && !isWorktop(floor.source) ? [{ label: "The floor with its trail", name: `${titleIn(text)} ${floor.name}`, draw: drawFloor }] : []),
                  ]}
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
      {language === "notation" && (
        <StepInserter
          open={inserting}
          rig={rig}
          trace={trace?.id ?? null}
          readings={readings ?? NO_READINGS}
          line={at}
          onInsert={insertStep}
          onClose={() => setInserting(false)}
        />
      )}
      <KeepDialog open={keeping} rig={rig} world={world} text={text} language={language} wordbooks={wordbooks} onClose={() => setKeeping(false)} />
    </div>
  );
}

/** What a program calls itself. */
function titleIn(text: string): string {
  return /^(?:behaviour|library)\s+"([^"]*)"/m.exec(text)?.[1] ?? "Program";
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
