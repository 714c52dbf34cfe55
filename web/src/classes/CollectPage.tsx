import { useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { assignmentsCreate, assignmentsDestroy, assignmentsExtensionCreate, assignmentsPartialUpdate, assignmentsReleaseCreate, assignmentsReleaseDestroy, type Assignment, type PatchedAssignmentRequest } from "../api/generated";
import { useChange, useExercise } from "../api/hooks";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { useAlike, useAssignments, useClasses, useStandings } from "./hooks";

/** What students hand in by themselves: the code for the board, who has handed in, more time, and marks given back. */
export function CollectPage() {
  const id = Number(useParams().id);
  const exercise = useExercise(id);
  const classes = useClasses();
  const assignments = useAssignments(id);
  const [chosen, setChosen] = useState("");
  const open = useChange(() => answer(assignmentsCreate({ body: { exercise: id, school_class: Number(chosen) } })), "assignments");
  const error = exercise.error ?? classes.error ?? assignments.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!exercise.data || !classes.data || !assignments.data) return <p className="p-6">Opening …</p>;
  const free = classes.data.filter((item) => !assignments.data.some((other) => other.school_class === item.id));
  return (
    <div className="mx-auto max-w-[1100px] space-y-5 px-6 py-5">
      <h1 className="text-2xl font-bold">
        Handing in{" "}
        <Link className="text-leaf underline underline-offset-4" to={`/exercises/${id}`}>
          {exercise.data.title}
        </Link>
      </h1>
      <Trouble error={open.error} />
      {free.length > 0 && (
        <div className="flex flex-wrap items-center gap-2">
          <label className="flex items-center gap-2">
            Let a class hand in
            <select className="rounded border border-rule bg-sheet px-2 py-1" value={chosen} onChange={(event) => setChosen(event.target.value)}>
              <option value="">choose …</option>
              {free.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.name}
                </option>
              ))}
            </select>
          </label>
          <Button strong disabled={!chosen} onClick={() => open.mutate(undefined, { onSuccess: () => setChosen("") })}>
            Open it
          </Button>
        </div>
      )}
      {classes.data.length === 0 && (
        <p>
          There is no class yet.{" "}
          <Link className="text-leaf underline" to="/classes">
            Make one first
          </Link>
          : then its students hand in with their own codes.
        </p>
      )}
      {assignments.data.map((assignment) => (
        <OneClass key={assignment.id} assignment={assignment} due={exercise.data?.due ?? null} />
      ))}
      <AlikeList exercise={id} />
    </div>
  );
}

function OneClass({ assignment, due }: { assignment: Assignment; due: string | null }) {
  const standings = useStandings(assignment.id);
  const path = { id: assignment.id };
  const change = useChange((body: PatchedAssignmentRequest) => answer(assignmentsPartialUpdate({ path, body })), "assignments", "standings", "sheet");
  const release = useChange((given: boolean) => answer(given ? assignmentsReleaseCreate({ path }) : assignmentsReleaseDestroy({ path })), "assignments");
  const remove = useChange(() => answer<void>(assignmentsDestroy({ path })), "assignments");
  const rows = standings.data ?? [];
  const missing = rows.filter((row) => row.tries === 0);
  const select = "rounded border border-rule bg-sheet px-1.5 py-0.5";
  return (
    <section className="rounded border border-rule bg-sheet px-4 py-3" aria-label={assignment.class_name} data-assignment={assignment.class_name}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h2 className="text-xl font-bold">{assignment.class_name}</h2>
        <p>
          Code for the board: <b className="num rounded bg-leaf-wash px-2 py-0.5 text-[19px]" data-code="">{assignment.code}</b>{" "}
          <span className="text-[14px] text-soft">at {location.origin}/hand-in</span>
        </p>
        <span className="flex-1" />
        <Button active={assignment.closed} aria-pressed={assignment.closed} onClick={() => change.mutate({ closed: !assignment.closed })}>
          {assignment.closed ? "Closed: open it again" : "Close it"}
        </Button>
        <Button strong={!assignment.released} active={assignment.released !== null} onClick={() => release.mutate(assignment.released === null)}>
          {assignment.released ? "Take the marks back" : "Give the marks back"}
        </Button>
        <DeleteButton what={`handing in by ${assignment.class_name}, with all tries`} onDelete={() => remove.mutate(undefined)} />
      </div>
      <div className="mt-2 flex flex-wrap gap-x-5 gap-y-1.5 text-[14px]">
        <label className="flex items-center gap-1.5">
          Tries
          <select className={select} value={assignment.tries ?? ""} onChange={(event) => change.mutate({ tries: event.target.value ? Number(event.target.value) : null })}>
            <option value="">as many as they like</option>
            {[1, 2, 3, 5, 10, 20].map((count) => (
              <option key={count} value={count}>
                {count}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          After the deadline
          <select className={select} value={assignment.after_due} onChange={(event) => change.mutate({ after_due: Number(event.target.value) })}>
            <option value={0}>none</option>
            <option value={1}>one</option>
            <option value={100}>as many as they like</option>
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          What counts
          <select className={select} value={assignment.counts} onChange={(event) => change.mutate({ counts: event.target.value as Assignment["counts"] })}>
            <option value="last">the last try</option>
            <option value="best">the best try</option>
          </select>
        </label>
        <span className="text-soft">{due ? `due ${moment(due)}` : "no deadline"}</span>
        {assignment.released && <span className="font-bold text-leaf">marks were given back {moment(assignment.released)}</span>}
      </div>
      <Trouble error={standings.error ?? change.error ?? release.error ?? remove.error} />
      <p className="mt-2" data-missing={missing.length}>
        <b className="num">{rows.length - missing.length}</b> of <b className="num">{rows.length}</b> have handed in.{" "}
        {missing.length > 0 && rows.length > 0 && <span className="text-soft">Not yet: {missing.map((row) => row.student.name).join(", ")}.</span>}
      </p>
      <table className="mt-1 w-full border-collapse text-[14.5px]">
        <thead>
          <tr className="border-b border-rule text-left text-[12.5px] text-soft">
            <th className="font-normal">Student</th>
            <th className="font-normal">tries</th>
            <th className="font-normal">the last came</th>
            <th className="font-normal">fingerprint of what counts</th>
            <th className="text-right font-normal">points</th>
            {due && <th className="pl-4 font-normal">more time until</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.student.id} className="border-b border-rule" data-standing={row.student.name}>
              <td className="py-1">
                {row.hand_in ? (
                  <Link className="text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${row.hand_in}`}>
                    {row.student.name}
                  </Link>
                ) : (
                  row.student.name
                )}
              </td>
              <td className="num">{row.tries || ""}</td>
              <td>
                {row.last && moment(row.last)} {row.late && <b className="text-clay">late</b>}
              </td>
              <td className="num text-[13px] text-soft">{row.fingerprint}</td>
              <td className="num text-right">{row.points === null ? (row.tries ? "…" : "") : show(row.points)}</td>
              {due && (
                <td className="pl-4">
                  <MoreTime assignment={assignment.id} student={row.student.id} name={row.student.name} until={row.due} />
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Until when a student has time, where that is not until the deadline of all. */
function MoreTime({ assignment, student, name, until }: { assignment: number; student: number; name: string; until: string | null }) {
  const give = useChange((moment: string) => answer<void>(assignmentsExtensionCreate({ path: { id: assignment }, body: { student, until: moment ? new Date(moment).toISOString() : null } })), "standings", "sheet");
  return (
    <input
      type="datetime-local"
      className={`num rounded border bg-paper px-1 py-0.5 text-[13px] ${give.error ? "border-clay" : "border-rule"}`}
      aria-label={`More time for ${name}, until`}
      key={until ?? "none"}
      defaultValue={until ? local(until) : ""}
      onBlur={(event) => event.target.value !== (until ? local(until) : "") && give.mutate(event.target.value)}
    />
  );
}

/** Hand-ins that are alike, side by side. That accuses nobody. */
function AlikeList({ exercise }: { exercise: number }) {
  const alike = useAlike(exercise);
  if (!alike.data?.length) return null;
  return (
    <section aria-label="Alike hand-ins">
      <h2 className="text-lg font-bold">Alike</h2>
      <p className="text-[14px] text-soft">The same text but for names and spaces, or the same behaviour to the last instant. There may be good reasons: talk first.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {alike.data.map((group) => (
          <li key={group.hand_ins.join()} className="flex flex-wrap gap-x-3 px-4 py-1.5" data-alike={group.how}>
            <span className="w-40 text-soft">{group.how === "text" ? "the same text" : "the same behaviour"}</span>
            {group.hand_ins.map((hand_in, index) => (
              <Link key={hand_in} className="text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${hand_in}`}>
                {group.students[index]}
              </Link>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

function moment(text: string): string {
  return new Date(text).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
}

function local(text: string): string {
  const at = new Date(text);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
