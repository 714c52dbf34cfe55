import { type ReactNode, useState } from "react";
import { Link, useNavigate } from "react-router";

import { answer, Problem } from "../api/client";
import { useBehaviours, useChange, useExercises, useFloors, useInputs, useRecordings, useRigs, useTraces, useWordbooks } from "../api/hooks";
import {
  behavioursCreate,
  behavioursDestroy,
  exercisesCreate,
  exercisesDestroy,
  floorsCreate,
  floorsDestroy,
  inputsDestroy,
  rigsCreate,
  rigsDestroy,
  rigsPartialUpdate,
  recordingsCreate,
  recordingsDestroy,
  tracesDestroy,
  tracesDrawCreate,
  tracesDropDoubtfulCreate,
  wordbooksCreate,
  wordbooksDestroy,
  type Floor,
  type Rig,
} from "../api/generated";
import { importAddress } from "../recordings/address";
import { isWorktop, planOf } from "../floors/plan";
import { Thumbnail } from "../floors/Thumbnail";
import { touched } from "../model/hands";
import { firstSketch } from "../model/sketch";
import { show, showDay } from "../model/numbers";
import { LANGUAGE_WORDS } from "../model/languages";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { UploadButton } from "../ui/UploadButton";
import { NewRig } from "../rigs/NewRig";
import { TraceLine } from "./TraceLine";

const FIRST_TEXT = (title: string, rig: string) => `behaviour "${title}"\nfor rig "${rig}"\n\nbegin:\n    wait 1 s\n`;

/** A check that a new exercise starts with: that it comes to rest, where the rig can move. */
function firstCheck(rig: Rig): string {
  const rests = rig.has_drive ? "drive" : rig.parts.find((part) => part.kind === "motor")?.name;
  return rests ? `check "Stands still at the end", 1 point:\n    at the end, ${rests} = 0 %\n` : 'check "Is short", 1 point:\n    program has at most 20 steps\n';
}

const DESTROY = {
  rigs: rigsDestroy,
  traces: tracesDestroy,
  recordings: recordingsDestroy,
  floors: floorsDestroy,
  inputs: inputsDestroy,
  behaviours: behavioursDestroy,
  exercises: exercisesDestroy,
  wordbooks: wordbooksDestroy,
};

const MOST_BYTES = 200_000_000;

const FIRST_WORDS = (rig: string) =>
  `wordbook "class words"\nfor rig "${rig}"\nreads python\nmodule robot\n\nword rest(time in s):\n    wait time\n`;

/** Home: everything the teacher has, and how to add to it. */
export function Shelf() {
  const rigs = useRigs();
  const traces = useTraces();
  const recordings = useRecordings();
  const floors = useFloors();
  const inputs = useInputs();
  const behaviours = useBehaviours();
  const exercises = useExercises();
  const wordbooks = useWordbooks();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<string | null>(null);
  const rig = rigs.data?.find((item) => String(item.id) === chosen) ?? rigs.data?.[0];
  const several = (rigs.data?.length ?? 0) > 1;
  const rigOf = (id: number) => rigs.data?.find((item) => item.id === id)?.name;
  const newBehaviour = useChange(
    (owner: Rig) => answer(behavioursCreate({ body: { rig: owner.id, title: "New behaviour", text: FIRST_TEXT("New behaviour", owner.name) } })),
    "behaviours",
  );
  const newExercise = useChange(
    (owner: Rig) =>
      answer(
        exercisesCreate({
          body: {
            rig: owner.id,
            title: "New exercise",
            reference: FIRST_TEXT("Reference", owner.name),
            checks: firstCheck(owner),
          },
        }),
      ),
    "exercises",
  );
  const newWordbook = useChange((owner: Rig) => answer(wordbooksCreate({ body: { rig: owner.id, text: FIRST_WORDS(owner.name) } })), "wordbooks");
  const importWordbooks = useChange(async ({ owner, files }: { owner: Rig; files: File[] }) => {
    for (const file of files) await answer(wordbooksCreate({ body: { rig: owner.id, text: await file.text() } }));
  }, "wordbooks");
  const importRig = useChange(async (files: File[]) => {
    for (const file of files) await answer(rigsCreate({ body: { source: parsed(await file.text()) } }));
  }, "rigs");
  const mendRig = useChange(
    async ({ id, files }: { id: number; files: File[] }) => answer(rigsPartialUpdate({ path: { id }, body: { source: parsed((await files[0]?.text()) ?? "") } })),
    "rigs", "traces", "inputs", "exercises", "lanes",
  );
  const sendRecordings = useChange(async ({ owner, files }: { owner: Rig; files: File[] }) => {
    const tooLarge = files.find((file) => file.size >= MOST_BYTES);
    if (tooLarge) throw new Problem(0, "trace-too-large", `A recording has at most ${MOST_BYTES / 1e6} MB.`, "Record for a shorter time, or cut the file up.", tooLarge.name);
    const sent = [];
    for (const file of files) sent.push(await answer(recordingsCreate({ body: { rig: owner.id, file } })));
    return sent;
  }, "recordings");
  const drawTrace = useChange((owner: Rig) => answer(tracesDrawCreate({ body: { rig: owner.id, name: "Drawn trace", source: firstSketch(owner.parts) as unknown as Record<string, unknown> } })), "traces");
  const newFloor = useChange((source: Floor["source"]) => answer(floorsCreate({ body: { source } })), "floors");
  const importFloors = useChange(async (files: File[]) => {
    for (const file of files) await answer(floorsCreate({ body: { source: parsed(await file.text()) as Record<string, unknown> } }));
  }, "floors");
  const drop = useChange((id: number) => answer(tracesDropDoubtfulCreate({ path: { id } })), "traces", "lanes");
  const remove = useChange(({ kind, id }: { kind: keyof typeof DESTROY; id: number }) => answer<void>(DESTROY[kind]({ path: { id } })), "rigs", "traces", "recordings", "floors", "inputs", "behaviours", "exercises", "wordbooks");
  const error = rigs.error ?? traces.error ?? floors.error ?? inputs.error ?? behaviours.error ?? exercises.error ?? wordbooks.error;
  const trouble = newBehaviour.error ?? newExercise.error ?? newFloor.error ?? importFloors.error ?? importRig.error ?? mendRig.error ?? drawTrace.error ?? sendRecordings.error ?? drop.error ?? newWordbook.error ?? importWordbooks.error ?? remove.error;
  if (!rigs.data || !traces.data || !floors.data || !inputs.data || !behaviours.data || !exercises.data || !wordbooks.data) return <div className="p-6">{error ? <Trouble error={error} /> : "Opening the shelf …"}</div>;

  return (
    <div className="mx-auto max-w-[1180px] px-6 py-5">
      <h1 className="text-2xl font-bold">Shelf</h1>
      <div className="mb-4 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2">
        <p className="text-soft">Your robots, what they recorded, what they should do, and what the class hands in.</p>
        {several && rig && (
          <Choice
            label="New things are for"
            value={String(rig.id)}
            options={(rigs.data ?? []).map((item) => ({ value: String(item.id), label: item.name }))}
            onChange={setChosen}
          />
        )}
      </div>
      {trouble && (
        <div className="mb-4">
          <Trouble error={trouble} />
        </div>
      )}
      <div className="grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[1.25fr_1fr]">
        <div className="min-w-0 space-y-6">
          <Board
            title="Exercises"
            empty="An exercise is a task with checks. Start one, or load the demonstration data with a new ./start --data folder."
            add={rig && <Button small onClick={() => newExercise.mutate(rig, { onSuccess: (made) => void navigate(`/exercises/${made.id}`) })}>New exercise</Button>}
          >
            {exercises.data.map((exercise) => (
              <li key={exercise.id} className="px-4 py-3">
                <div className="flex items-center gap-3">
                  <Link className="flex-1 font-bold text-leaf underline-offset-4 hover:underline" to={`/exercises/${exercise.id}`}>
                    {exercise.title}
                  </Link>
                  <Link className="text-[14px] text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/marks`}>
                    Mark sheet
                  </Link>
                  <DeleteButton what={`the exercise ${exercise.title} with its hand-ins`} onDelete={() => remove.mutate({ kind: "exercises", id: exercise.id })} />
                </div>
                <p className="text-[14px] text-soft">
                  {count(exercise.check_titles.length, "check")}, {count(exercise.cases.length, "case")}, {count(exercise.hand_in_count, "hand-in")}
                  {several && `, for ${rigOf(exercise.rig)}`}
                </p>
                {exercise.broken && <Broken why={exercise.broken} />}
              </li>
            ))}
          </Board>
          <Board
            title="Behaviours"
            empty="A behaviour says what the robot should do. Start one."
            add={rig && <Button small onClick={() => newBehaviour.mutate(rig, { onSuccess: (made) => void navigate(`/bench/${made.id}`) })}>New behaviour</Button>}
          >
            {behaviours.data.map((behaviour) => (
              <li key={behaviour.id} className="flex items-center gap-3 px-4 py-3">
                <Link className="flex-1 font-bold text-leaf underline-offset-4 hover:underline" to={`/bench/${behaviour.id}`}>
                  {behaviour.title}
                </Link>
                {/^(\s*#.*\n|\s)*library\b/.test(behaviour.text) && (
                  <span className="rounded border border-rule bg-sunk px-1.5 text-[12px]">library</span>
                )}
                {several && <span className="text-[13px] text-soft">{rigOf(behaviour.rig)}</span>}
                <span className="num text-[13px] text-soft">{count(behaviour.text.trimEnd().split("\n").length, "line")}</span>
                <span className="text-[13px] text-soft">{showDay(behaviour.updated)}</span>
                <DeleteButton what={`the behaviour ${behaviour.title}`} onDelete={() => remove.mutate({ kind: "behaviours", id: behaviour.id })} />
              </li>
            ))}
          </Board>
        </div>
        <div className="min-w-0 space-y-6">
          <Board
            title="Rigs"
            empty="A rig says which part is on which port of the robot. Start from one of three, or import one."
            add={
              <span className="flex gap-1.5">
                <NewRig />
                <UploadButton accept=".json" onFiles={(files) => importRig.mutate(files)}>
                  Import rig
                </UploadButton>
              </span>
            }
          >
            {rigs.data.map((item) => (
              <li key={item.id} className="px-4 py-3">
                <div className="flex items-center justify-between">
                  <Link className="font-bold text-leaf underline-offset-4 hover:underline" to={`/rigs/${item.id}`}>
                    {item.name}
                  </Link>
                  <DeleteButton what={`the rig ${item.name}`} onDelete={() => remove.mutate({ kind: "rigs", id: item.id })} />
                </div>
                {item.broken ? (
                  <Broken why={item.broken}>
                    <UploadButton accept=".json" onFiles={(files) => mendRig.mutate({ id: item.id, files })}>
                      Put a mended rig in its place
                    </UploadButton>
                  </Broken>
                ) : (
                  <p className="text-[14px] text-soft">{item.parts.map((part) => part.name).join(", ")}</p>
                )}
              </li>
            ))}
          </Board>
          <Board
            title="Floors"
            empty="A floor is a simulated place: walls, obstacles, lamps, marks. Draw one."
            add={
              <span className="flex gap-1.5">
                <Button small onClick={() => newFloor.mutate(EMPTY_WORKTOP, { onSuccess: (made) => void navigate(`/floors/${made.id}`) })}>New worktop</Button>
                <Button small onClick={() => newFloor.mutate(EMPTY_FLOOR, { onSuccess: (made) => void navigate(`/floors/${made.id}`) })}>New floor</Button>
                <UploadButton accept=".json" multiple onFiles={(files) => importFloors.mutate(files)}>
                  Import floors
                </UploadButton>
              </span>
            }
          >
            {floors.data.map((floor) => (
              <li key={floor.id} className="flex items-center gap-3 px-4 py-2.5">
                <Thumbnail floor={floor} />
                <Link className="flex-1 font-bold text-leaf underline-offset-4 hover:underline" to={`/floors/${floor.id}`}>
                  {floor.name}
                </Link>
                <span className="num text-[13px] text-soft">{sizeOf(floor)}</span>
                <DeleteButton what={`the floor ${floor.name}`} onDelete={() => remove.mutate({ kind: "floors", id: floor.id })} />
              </li>
            ))}
          </Board>
          <Board
            title="Traces"
            empty="A trace is what a robot recorded: a table, a serial log, a dump of a logic analyser. Bring the file; Geduld says what it understood."
            add={
              rig && (
                <span className="flex gap-1.5">
                <Button small onClick={() => drawTrace.mutate(rig, { onSuccess: (made) => void navigate(`/traces/${made.id}?tab=draw`) })}>Draw one</Button>
                <UploadButton multiple onFiles={(files) => sendRecordings.mutate({ owner: rig, files }, { onSuccess: (sent) => void navigate(importAddress(sent)) })}>
                  Import recordings
                </UploadButton>
                </span>
              )
            }
          >
            {[
              ...(recordings.data ?? []).map((file) => (
              <li key={`file ${file.id}`} className="flex items-center gap-3 bg-ochre-wash px-4 py-2">
                <span className="num min-w-0 flex-1 truncate text-[14px]">{file.name}</span>
                <Link className="text-[14px] text-leaf underline underline-offset-2" to={`/recordings/${file.id}`}>
                  Look at it and import
                </Link>
                <DeleteButton what={`the file ${file.name}, which is not imported yet`} onDelete={() => remove.mutate({ kind: "recordings", id: file.id })} />
              </li>
            )),
              ...traces.data.map((trace) => (
              <li key={trace.id} className="flex flex-wrap items-center gap-3 px-4 py-2.5">
                <div className="w-36 shrink-0">
                  <Link className="block truncate font-bold text-leaf underline-offset-4 hover:underline" to={`/traces/${trace.id}`}>
                    {trace.name}
                  </Link>
                  {several && <p className="truncate text-[13px] text-soft">{rigOf(trace.rig)}</p>}
                  <p className="num text-[13px] text-soft">
                    {show(trace.duration_us / 1e6, "s", 1)}, {show((trace.samples - 1) / (trace.duration_us / 1e6 || 1), "Hz", 0)}
                  </p>
                </div>
                <div className="min-w-0 flex-1">
                  <TraceLine trace={trace} />
                </div>
                <DeleteButton what={`the trace ${trace.name}`} onDelete={() => remove.mutate({ kind: "traces", id: trace.id })} />
                {trace.doubts.length > 0 && (
                  <div className="w-full border-l-4 border-ochre pl-3 text-[14px]" data-doubts={trace.name}>
                    {trace.doubts.map((doubt) => (
                      <p key={doubt}>{doubt}</p>
                    ))}
                    <p className="mt-1 flex items-center gap-2">
                      They are kept. <Button small onClick={() => drop.mutate(trace.id)}>Drop them</Button>
                    </p>
                  </div>
                )}
              </li>
              )),
            ]}
          </Board>
          <Board
            title="Wordbooks"
            empty="A wordbook says what the words of your class's Python or C programs mean, so that they can be checked."
            add={
              rig && (
                <span className="flex gap-1.5">
                  <Button small onClick={() => newWordbook.mutate(rig, { onSuccess: (made) => void navigate(`/wordbooks/${made.id}`) })}>New wordbook</Button>
                  <UploadButton accept=".geduld,.txt" multiple onFiles={(files) => importWordbooks.mutate({ owner: rig, files })}>
                    Import wordbooks
                  </UploadButton>
                </span>
              )
            }
          >
            {wordbooks.data.map((book) => (
              <li key={book.id} className="flex items-center gap-3 px-4 py-2.5">
                <Link className="flex-1 font-bold text-leaf underline-offset-4 hover:underline" to={`/wordbooks/${book.id}`}>
                  {book.title}
                </Link>
                <span className="text-[13px] text-soft">
                  {LANGUAGE_WORDS[book.language]}, {count(book.words.length, "word")}
                </span>
                <DeleteButton what={`the wordbook ${book.title}`} onDelete={() => remove.mutate({ kind: "wordbooks", id: book.id })} />
              </li>
            ))}
          </Board>
          <Board title="Inputs" empty="What hands did in a test on the bench can be kept and used again.">
            {inputs.data.map((item) => (
              <li key={item.id} className="flex items-center gap-3 px-4 py-2">
                <div className="min-w-0 flex-1">
                  <p className="font-bold">{item.name}</p>
                  {item.broken && <Broken why={item.broken} />}
                </div>
                <span className="truncate text-[13px] text-soft">{touched(item.doings).join(", ")}</span>
                <DeleteButton what={`the inputs ${item.name}`} onDelete={() => remove.mutate({ kind: "inputs", id: item.id })} />
              </li>
            ))}
          </Board>
        </div>
      </div>
    </div>
  );
}

const EMPTY_FLOOR = {
  geduld: "floor/1",
  name: "New floor",
  size: ["300 cm", "200 cm"],
  surface: { name: "tiles" },
  start: { at: ["50 cm", "100 cm"], heading: "0 deg" },
};

const EMPTY_WORKTOP = { geduld: "floor/1", name: "New worktop" };

function sizeOf(floor: Floor): string {
  if (isWorktop(floor.source)) return "worktop";
  const [width, depth] = planOf(floor.source).size;
  return `${show(width)} x ${show(depth, "cm")}`;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

function count(number: number, word: string): string {
  return `${number} ${word}${number === 1 ? "" : "s"}`;
}

/** Why something that is kept cannot be read, and a way to mend it. */
function Broken({ why, children }: { why: string; children?: ReactNode }) {
  return (
    <div className="mt-1 rounded border border-clay bg-clay-wash px-2.5 py-1.5 text-[13px] leading-snug">
      <p>
        <b>It cannot be read.</b> {why}
      </p>
      {children && <div className="mt-1.5">{children}</div>}
    </div>
  );
}

function Board({ title, add, empty, children }: { title: string; add?: ReactNode; empty: string; children: ReactNode[] }) {
  return (
    <section aria-label={title}>
      <div className="mb-1.5 flex items-center justify-between">
        <h2 className="text-lg font-bold">{title}</h2>
        {add}
      </div>
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet">
        {children.length ? children : <li className="px-4 py-3 text-soft">{empty}</li>}
      </ul>
    </section>
  );
}
