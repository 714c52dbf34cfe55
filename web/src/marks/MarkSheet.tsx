import { useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useExercise, useSheet, useWordbooks } from "../api/hooks";
import { exercisesGradeCreate, exercisesGradeDestroy, type Sheet } from "../api/generated";
import { alike, type Filter, filtered, type Order, ordered, totalsOf, unreadIn, wordsFor } from "../model/sheet";
import { PictureMenu } from "../picture/PictureMenu";
import { sheetPicture } from "../picture/sheet";
import { Button } from "../ui/Button";
import { Progress } from "../ui/Progress";
import { Trouble } from "../ui/Trouble";
import { Table } from "./Table";

/** Students by checks. A cell opens that hand-in on the bench at the moment that decided it. */
export function MarkSheet() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  const grade = useChange(() => answer(exercisesGradeCreate({ path: { id } })), "sheet");
  const cancel = useChange(() => answer(exercisesGradeDestroy({ path: { id } })), "sheet");
  if (sheet.error) return <div className="p-6"><Trouble error={sheet.error} /></div>;
  if (!sheet.data) return <p className="p-6">Opening the mark sheet …</p>;
  const rows = sheet.data.rows;
  const running = sheet.data.job?.state === "running" ? sheet.data.job : null;
  const waiting = rows.filter((row) => !row.graded || row.stale).length;
  return (
    <div className="px-6 py-4">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl font-bold">Mark sheet</h1>
        <Link className="text-leaf underline underline-offset-2" to={`/exercises/${id}`}>
          {sheet.data.title}
        </Link>
        <span className="flex-1" />
        {waiting > 0 && !running && (
          <span className="text-[14px] text-ochre">
            {waiting} of {rows.length} hand-ins {waiting === 1 ? "is" : "are"} not graded as things are now.
          </span>
        )}
        {running ? (
          <Progress job={running} word="Grading" onCancel={() => cancel.mutate(undefined)} />
        ) : (
          <Button strong={waiting > 0} disabled={grade.isPending || !waiting} onClick={() => grade.mutate(undefined)}>
            {waiting ? "Grade" : "All graded"}
          </Button>
        )}
        <a className="rounded border border-rule bg-sheet px-3 py-1.5 hover:bg-sunk" href={`/api/exercises/${id}/marks.csv`} download>
          Marks as CSV
        </a>
        <a className="rounded border border-rule bg-sheet px-3 py-1.5 hover:bg-sunk" href={`/api/exercises/${id}/results.csv`} download>
          Results for the register
        </a>
        <Link className="rounded border border-rule bg-sheet px-3 py-1.5 hover:bg-sunk" to={`/exercises/${id}/feedback`}>
          Feedback to print
        </Link>
        <PictureMenu large pictures={[{ label: "The mark sheet", name: `${sheet.data.title} marks`, draw: () => sheetPicture(sheet.data.title, sheet.data) }]} />
      </div>
      <Trouble error={grade.error} />
      {sheet.data.job?.state === "failed" && <p className="mb-3 text-clay" role="alert">{sheet.data.job.problem}</p>}
      {rows.length ? <Class sheet={sheet.data} /> : <p>No hand-in yet. Upload them in the exercise.</p>}
    </div>
  );
}

/** What could not be read over the whole class, and where to add words. */
function Unread({ sheet }: { sheet: Sheet }) {
  const found = unreadIn(sheet.rows);
  const books = useExercise(sheet.exercise).data?.wordbooks ?? [];
  const named = (useWordbooks().data ?? []).filter((book) => books.includes(book.id));
  if (!found.length) return null;
  return (
    <section aria-label="What could not be read" className="mb-3 rounded border border-dashed border-soft bg-sheet px-3 py-2 text-[14px]">
      <h2 className="font-bold">Geduld could not read this. It is no mark; add what is missing and grade again.</h2>
      <ul className="mt-1 list-disc pl-5">
        {found.map(({ what, students }) => (
          <li key={what}>
            {what} <span className="text-soft">{students.join(", ")}</span>
          </li>
        ))}
      </ul>
      {named.length > 0 && (
        <p className="mt-1">
          Words are added in{" "}
          {named.map((book, index) => (
            <span key={book.id}>
              {index > 0 && " or "}
              <Link className="text-leaf underline underline-offset-2" to={`/wordbooks/${book.id}`}>
                {book.title}
              </Link>
            </span>
          ))}
          .
        </p>
      )}
    </section>
  );
}

const FIELD = "max-w-[26em] rounded border border-rule bg-sheet px-1.5 py-1 text-[14px] text-ink";

/** The class, in an order and as far as it is asked for. */
function Class({ sheet }: { sheet: Sheet }) {
  const [order, setOrder] = useState<Order>("student");
  const [filter, setFilter] = useState<Filter>("all");
  const groups = alike(sheet.rows);
  const checks = sheet.rows.filter((row) => row.graded).slice(0, 1).flatMap(totalsOf);
  const shown = ordered(filtered(sheet.rows, filter), order);
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1.5 text-[13px] text-soft">
        <label className="flex items-center gap-1.5">
          Show
          <select className={FIELD} value={filter} onChange={(event) => setFilter(event.target.value as Filter)}>
            <option value="all">the whole class, {sheet.rows.length}</option>
            <option value="lost">those who lost points</option>
            <option value="problem">those whose program could not be tried</option>
            <option value="given">those with a mark of your own</option>
            {groups.length > 0 && (
              <optgroup label="Those who fail alike">
                {groups.map((group) => (
                  <option key={group.pattern} value={`alike ${group.pattern}`}>
                    {group.rows.length}: {wordsFor(group)}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          Order
          <select className={FIELD} value={order} onChange={(event) => setOrder(event.target.value)}>
            <option value="student">by name</option>
            <option value="points">fewest points first</option>
            {checks.map((mark) => (
              <option key={mark.check} value={mark.check}>
                worst first in: {mark.check}
              </option>
            ))}
          </select>
        </label>
        {shown.length < sheet.rows.length && (
          <span role="status">
            {shown.length} of {sheet.rows.length} shown
          </span>
        )}
      </div>
      <Unread sheet={sheet} />
      <Table sheet={{ ...sheet, rows: shown }} whole={sheet.rows} />
    </>
  );
}

