import { Link, useParams } from "react-router";

import { api } from "../api/client";
import { useChange, useSheet } from "../api/hooks";
import type { Sheet, SheetMark, SheetRow } from "../api/types";
import { show } from "../model/numbers";
import { marginWords, meaning, VERDICTS } from "../model/verdicts";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { VerdictMark } from "../ui/VerdictMark";

const ALL = "all";

/** Students by checks. A cell opens that hand-in on the bench at the moment that decided it. */
export function MarkSheet() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  const grade = useChange(() => api.post<Sheet>(`exercises/${id}/grade`, {}), "sheet");
  if (sheet.error) return <div className="p-6"><Trouble error={sheet.error} /></div>;
  if (!sheet.data) return <p className="p-6">Opening the mark sheet …</p>;
  const rows = sheet.data.rows;
  const waiting = rows.filter((row) => !row.graded || row.stale).length;
  return (
    <div className="px-6 py-4">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl font-bold">Mark sheet</h1>
        <Link className="text-leaf underline underline-offset-2" to={`/exercises/${id}`}>
          {sheet.data.title}
        </Link>
        <span className="flex-1" />
        {waiting > 0 && (
          <span className="text-[14px] text-ochre">
            {waiting} of {rows.length} {waiting === 1 ? "hand-in is" : "hand-ins are"} not graded with the exercise as it is now.
          </span>
        )}
        <Button strong={waiting > 0} disabled={grade.isPending || !waiting} onClick={() => grade.mutate(undefined)}>
          {grade.isPending ? "Grading …" : waiting ? "Grade" : "All graded"}
        </Button>
        <a className="rounded border border-rule bg-sheet px-3 py-1.5 hover:bg-sunk" href={`/api/exercises/${id}/marks.csv`} download>
          Marks as CSV
        </a>
      </div>
      <Trouble error={grade.error} />
      {rows.length ? <Table sheet={sheet.data} /> : <p>No hand-in yet. Upload them in the exercise.</p>}
    </div>
  );
}

function Table({ sheet }: { sheet: Sheet }) {
  const graded = sheet.rows.filter((row) => row.graded);
  const checks = (graded[0]?.marks ?? []).filter((mark) => mark.case === ALL);
  return (
    <>
      <table className="w-full border-separate border-spacing-0 text-[14px]">
        <thead>
          <tr className="align-bottom text-left">
            <th scope="col" className="border-b-2 border-ink py-2 pr-3 font-bold">
              Student
            </th>
            {checks.map((check) => (
              <th key={check.check} scope="col" className="border-b-2 border-ink px-2 py-2 font-bold">
                {check.check}
                <span className="num block text-[12px] font-normal text-soft">{show(check.of)} points</span>
              </th>
            ))}
            <th scope="col" className="border-b-2 border-ink py-2 pl-3 text-right font-bold">
              Points
            </th>
          </tr>
        </thead>
        <tbody>
          {sheet.rows.map((row) => (
            <Row key={row.hand_in} row={row} columns={checks.length} />
          ))}
        </tbody>
        {graded.length > 0 && <Distribution rows={graded} checks={checks.map((check) => check.check)} />}
      </table>
      <ul className="mt-4 flex flex-wrap gap-x-6 gap-y-1 text-[13px] text-soft">
        {VERDICTS.map((verdict) => (
          <li key={verdict} className="flex items-center gap-1.5">
            <VerdictMark verdict={verdict} size={14} />
            <span>
              <span className="font-bold text-ink">{verdict}</span> {meaning(verdict)}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Row({ row, columns }: { row: SheetRow; columns: number }) {
  const totals = row.marks.filter((mark) => mark.case === ALL);
  return (
    <tr className="group">
      <th scope="row" className="border-b border-rule py-1.5 pr-3 text-left font-bold whitespace-nowrap">
        <Link className="text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${row.hand_in}`}>
          {row.student}
        </Link>
        {row.stale && <span className="block text-[12px] font-normal text-ochre">exercise changed since</span>}
      </th>
      {row.problem ? (
        <td colSpan={columns} className="border-b border-rule px-2 py-1.5">
          <Link className="flex items-center gap-2 rounded bg-clay-wash px-2 py-1 leading-snug hover:underline" to={`/hand-ins/${row.hand_in}`}>
            <VerdictMark verdict="fail" />
            {row.problem}
          </Link>
        </td>
      ) : row.graded ? (
        totals.map((total) => (
          <td key={total.check} className="border-b border-rule px-1 py-1">
            <Cell total={total} marks={row.marks.filter((mark) => mark.check === total.check && mark.case !== ALL)} handIn={row.hand_in} />
          </td>
        ))
      ) : (
        <td colSpan={Math.max(1, columns)} className="border-b border-rule px-2 py-1.5 text-soft">
          not graded yet
        </td>
      )}
      <td className="num border-b border-rule py-1.5 pl-3 text-right whitespace-nowrap">
        {row.graded ? (
          <>
            <span className="font-semibold">{show(row.points)}</span>
            <span className="text-soft"> of {show(row.of)}</span>
          </>
        ) : (
          "–"
        )}
      </td>
    </tr>
  );
}

/** The mark that decided a cell: the worst case, the one a teacher wants to see. */
function deciding(marks: SheetMark[]): SheetMark | undefined {
  const order = ["fail", "part", "not certain", "not exercised", "pass"];
  return [...marks].sort((a, b) => order.indexOf(a.verdict) - order.indexOf(b.verdict))[0];
}

function Cell({ total, marks, handIn }: { total: SheetMark; marks: SheetMark[]; handIn: number }) {
  const shown = deciding(marks) ?? total;
  const query = new URLSearchParams({ case: shown.case, check: shown.check });
  if (shown.at !== null) query.set("at", String(shown.at));
  const margin = marginWords(shown.margin, shown.unit);
  return (
    <Link
      to={`/hand-ins/${handIn}?${query.toString()}`}
      className="flex items-center gap-2 rounded px-1.5 py-1 hover:bg-sunk"
      title={`${shown.case}: ${shown.because}`}
      data-cell={`${total.check}`}
    >
      <VerdictMark verdict={total.verdict} size={18} />
      <span className="leading-tight">
        <span className="num font-semibold">{show(total.points)}</span>
        <span className="sr-only">
          {" "}
          of {show(total.of)} points, {total.verdict}.
        </span>
        {total.verdict !== "pass" && <span className="num block text-[12px] text-soft">{margin || total.verdict}</span>}
      </span>
    </Link>
  );
}

function Distribution({ rows, checks }: { rows: SheetRow[]; checks: string[] }) {
  return (
    <tfoot>
      <tr>
        <th scope="row" className="py-2 pr-3 text-left text-[13px] font-normal text-soft">
          class together
        </th>
        {checks.map((check) => {
          const marks = rows.flatMap((row) => row.marks.filter((mark) => mark.check === check && mark.case === ALL));
          const full = marks.filter((mark) => mark.verdict === "pass").length;
          return (
            <td key={check} className="px-2 py-2 text-[13px]">
              <span className="block h-1.5 w-full max-w-24 rounded bg-clay-wash" aria-hidden="true">
                <span className="block h-full rounded bg-leaf" style={{ width: `${(full / Math.max(1, marks.length)) * 100}%` }} />
              </span>
              <span className="text-soft">
                {full} of {marks.length} pass
              </span>
            </td>
          );
        })}
        <td className="num py-2 pl-3 text-right text-[13px] text-soft">
          mean {show(rows.reduce((sum, row) => sum + row.points, 0) / rows.length, "", 1)}
        </td>
      </tr>
    </tfoot>
  );
}
