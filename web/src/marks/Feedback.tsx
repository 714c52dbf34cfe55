import { useState } from "react";
import { Link, useParams } from "react-router";

import { useExercise, useHandIns, useSheet } from "../api/hooks";
import type { SheetMark, SheetRow } from "../api/generated";
import { show, showDay } from "../model/numbers";
import { totalsOf } from "../model/sheet";
import { Brief } from "../ui/Brief";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { MarkItem } from "./MarkItem";

/** A page for each student and one for the class, to be printed. */
export function Feedback() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  const exercise = useExercise(id);
  const handIns = useHandIns(id);
  const error = sheet.error ?? exercise.error ?? handIns.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!sheet.data || !exercise.data || !handIns.data) return <p className="p-6">Opening the feedback …</p>;
  const hidden = new Set(exercise.data.check_titles.filter((check) => check.private).map((check) => check.title));
  const rows = sheet.data.rows.filter((row) => row.graded);
  const texts = new Map(handIns.data.map((item) => [item.id, item.text]));
  return (
    <div className="mx-auto max-w-[760px] px-6 py-4 print:max-w-none print:p-0">
      <div className="mb-4 flex items-center gap-3 print:hidden">
        <h1 className="text-2xl font-bold">Feedback</h1>
        <Link className="text-leaf underline underline-offset-2" to={`/exercises/${id}/marks`}>
          Mark sheet of {sheet.data.title}
        </Link>
        <span className="flex-1" />
        <Button strong onClick={() => print()} disabled={!rows.length}>
          Print
        </Button>
      </div>
      {rows.length ? (
        <>
          <Summary title={sheet.data.title} rows={rows} />
          {rows.map((row) => (
            <Student key={row.hand_in} title={sheet.data.title} brief={exercise.data.brief} row={row} text={texts.get(row.hand_in) ?? ""} hidden={hidden} />
          ))}
        </>
      ) : (
        <p>Nothing is graded yet.</p>
      )}
    </div>
  );
}

const JUDGED = ["pass", "part", "fail"];

function Summary({ title, rows }: { title: string; rows: SheetRow[] }) {
  const checks = rows.slice(0, 1).flatMap(totalsOf);
  const points = rows.map((row) => row.points).sort((a, b) => a - b);
  const mean = points.reduce((sum, value) => sum + value, 0) / rows.length;
  return (
    <section className="break-after-page pb-8" aria-label="The class">
      <Head title={title} name="The class" />
      <p className="mb-3">
        {rows.length} hand-ins, <span className="num">{show(mean, "", 1)}</span> of <span className="num">{show(rows[0]?.of ?? 0)}</span> points in the mean. The points go from{" "}
        <span className="num">{show(points[0] ?? 0)}</span> to <span className="num">{show(points.at(-1) ?? 0)}</span>; half the class has{" "}
        <span className="num">{show(points[Math.floor(points.length / 2)] ?? 0)}</span> or more.
      </p>
      <table className="w-full text-left text-[14px]">
        <thead>
          <tr className="border-b border-ink">
            <th scope="col" className="py-1">Check</th>
            {[...JUDGED, "not tested"].map((word) => (
              <th key={word} scope="col" className="py-1 text-right">
                {word}
              </th>
            ))}
            <th scope="col" className="py-1 text-right">mean points</th>
          </tr>
        </thead>
        <tbody>
          {checks.map((check) => {
            const marks = rows.flatMap((row) => totalsOf(row).filter((mark) => mark.check === check.check));
            const counts = JUDGED.map((verdict) => marks.filter((mark) => mark.verdict === verdict).length);
            const tested = counts.reduce((sum, count) => sum + count, 0);
            const points = rows.map((row) => row.given[check.check] ?? totalsOf(row).find((mark) => mark.check === check.check)?.points ?? 0);
            return (
              <tr key={check.check} className="border-b border-rule">
                <th scope="row" className="py-1 font-normal">{check.check}</th>
                {[...counts, marks.length - tested].map((count, column) => (
                  <td key={column} className="num text-right">
                    {count}
                  </td>
                ))}
                <td className="num text-right">
                  {show(points.reduce((sum, value) => sum + value, 0) / points.length, "", 1)} of {show(check.of)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

interface StudentProps {
  title: string;
  brief: string;
  row: SheetRow;
  /** The program as it was handed in. */
  text: string;
  /** The checks that students do not see. */
  hidden: Set<string>;
}

function Student({ title, brief, row, text, hidden }: StudentProps) {
  const shown = totalsOf(row).filter((mark) => !hidden.has(mark.check));
  const others = totalsOf(row).filter((mark) => hidden.has(mark.check));
  const sum = (of: (mark: SheetMark) => number) => show(others.reduce((total, mark) => total + of(mark), 0));
  return (
    <section className="break-after-page border-t border-rule py-6 print:border-0 print:py-0" aria-label={row.student}>
      <Head title={title} name={row.student} />
      <Brief text={brief} />
      <p className="mb-3 text-lg">
        <span className="num font-semibold">{show(row.points)}</span> of <span className="num">{show(row.of)}</span> points
        {row.because && <span className="block text-[14px] text-soft">{row.because}</span>}
      </p>
      {row.problem && <p className="mb-3 rounded border border-clay px-3 py-2">{row.problem}</p>}
      <ul className="space-y-2.5">{!row.problem && shown.map((mark) => <MarkItem key={mark.check} mark={mark} given={row.given[mark.check]} />)}</ul>
      {!row.problem && others.length > 0 && (
        <p className="mt-3 flex justify-between text-[14px]">
          <span>{others.length === 1 ? "One more check" : `${others.length} more checks`} of your teacher's</span>
          <span className="num">
            {sum((mark) => row.given[mark.check] ?? mark.points)} of {sum((mark) => mark.of)}
          </span>
        </p>
      )}
      {text && <Program text={text} />}
    </section>
  );
}

const MOST_LINES = 120;

/** The program, its lines counted as the sentences above count them. */
function Program({ text }: { text: string }) {
  const lines = text.trimEnd().split("\n");
  return (
    <div className="mt-5">
      <h3 className="mb-1 text-[14px] font-bold">As handed in</h3>
      <ol className="num border-l border-rule text-[12px] leading-snug">
        {lines.slice(0, MOST_LINES).map((line, index) => (
          <li key={index} className="flex gap-3">
            <span className="w-8 shrink-0 text-right text-soft" aria-hidden="true">
              {index + 1}
            </span>
            <span className="min-w-0 break-words whitespace-pre-wrap">{line}</span>
          </li>
        ))}
      </ol>
      {lines.length > MOST_LINES && <p className="text-[13px] text-soft">and {lines.length - MOST_LINES} more lines</p>}
    </div>
  );
}

function Head({ title, name }: { title: string; name: string }) {
  const [today] = useState(() => new Date().toISOString());
  return (
    <header className="mb-3 flex items-baseline justify-between border-b-2 border-ink pb-1">
      <h2 className="text-xl font-bold">{name}</h2>
      <p className="text-[14px]">
        {title}, {showDay(today)}
      </p>
    </header>
  );
}
