import { useState } from "react";
import { Link } from "react-router";

import type { Sheet, SheetMark, SheetRow } from "../api/generated";
import { show, showPoints } from "../model/numbers";
import { ALL, totalsOf } from "../model/sheet";
import { marginSign, marginWords, meaning, VERDICTS } from "../model/verdicts";
import { VerdictMark } from "../ui/VerdictMark";
import { gridKeys } from "./gridKeys";
import { type Giving, OverrideDialog } from "./OverrideDialog";

/** With more checks than this the cells show no margin, so that a class still fits a screen. */
const ROOMY = 8;

/** The names stay in sight on the left, the sums on the right, where the checks have to be scrolled. */
const LEFT = "sticky left-0 z-10 bg-paper pr-3 text-left";
const RIGHT = "num sticky right-0 z-10 bg-paper pl-3 text-right";

/** Students by checks: a sign and points in each cell, which opens the hand-in on the bench. `whole` is the class without any filter. */
export function Table({ sheet, whole }: { sheet: Sheet; whole: SheetRow[] }) {
  const [giving, setGiving] = useState<Giving | null>(null);
  const graded = whole.filter((row) => row.graded);
  const checks = graded.slice(0, 1).flatMap(totalsOf);
  return (
    <>
      <div className="relative overflow-x-auto scroll-pr-28 scroll-pl-40 py-0.5">
        <table className="w-full border-separate border-spacing-0 text-[14px]" onKeyDown={gridKeys}>
          <thead>
            <tr className="align-bottom text-left">
              <th scope="col" className={`${LEFT} border-b-2 border-ink py-2 font-bold`}>
                Student
              </th>
              {checks.map((check) => (
                <th key={check.check} scope="col" className="border-b-2 border-ink px-2 py-2 font-bold">
                  {check.check}
                  <span className="num block text-[12px] font-normal whitespace-nowrap text-soft">{showPoints(check.of)}</span>
                </th>
              ))}
              {!checks.length && <td className="border-b-2 border-ink" />}
              <th scope="col" className={`${RIGHT} border-b-2 border-ink py-2 font-bold`}>
                Points
              </th>
            </tr>
          </thead>
          <tbody>
            {sheet.rows.map((row, index) => (
              <Row key={row.hand_in} row={row} index={index} columns={checks.length} onGive={setGiving} />
            ))}
          </tbody>
          {graded.length > 0 && <Distribution rows={graded} checks={checks.map((check) => check.check)} />}
        </table>
      </div>
      <OverrideDialog giving={giving} onClose={() => setGiving(null)} />
      <p className="mt-3 text-[13px] text-soft">
        In the table arrow keys go from mark to mark, Enter opens the bench at the deciding moment, M changes the mark.
        {checks.length <= ROOMY && " Under the points stands by how much a check was missed (−)."}
      </p>
      <ul className="mt-1.5 flex flex-wrap gap-x-6 gap-y-1 text-[13px] text-soft">
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

function Row({ row, index, columns, onGive }: { row: SheetRow; index: number; columns: number; onGive: (giving: Giving) => void }) {
  const totals = totalsOf(row);
  return (
    <tr className="group">
      <th scope="row" className={`${LEFT} border-b border-rule py-1.5 font-bold whitespace-nowrap`}>
        <Link className="text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${row.hand_in}`}>
          {row.student}
        </Link>
        {row.stale && <span className="block text-[12px] font-normal text-ochre">graded before a change</span>}
        {row.failure && row.graded && <span className="block max-w-44 text-[12px] font-normal whitespace-normal text-clay">{row.failure}</span>}
      </th>
      {row.problem ? (
        <td colSpan={columns} className="border-b border-rule px-2 py-1.5">
          <Link
            className={`flex items-center gap-2 rounded px-2 py-1 leading-snug hover:underline ${row.unread.length ? "border border-dashed border-soft" : "bg-clay-wash"}`}
            to={`/hand-ins/${row.hand_in}`}
            data-row={index}
            data-column={0}
            tabIndex={index === 0 ? 0 : -1}
          >
            <VerdictMark verdict={row.unread.length ? "not read" : "fail"} />
            {row.problem}
          </Link>
        </td>
      ) : row.graded ? (
        totals.map((total, column) => (
          <td key={total.check} className="group/cell border-b border-rule px-1 py-1">
            <div className="relative">
              <Cell total={total} roomy={columns <= ROOMY} row={index} column={column} given={row.given[total.check]} marks={row.marks.filter((mark) => mark.check === total.check && mark.case !== ALL)} handIn={row.hand_in} />
              <button
                type="button"
                className="absolute top-0 right-0 rounded px-1.5 py-1 text-soft opacity-0 group-hover/cell:opacity-100 hover:text-ink focus-visible:opacity-100"
                tabIndex={-1}
                aria-label={`Change the mark of ${row.student} for ${total.check}`}
                title="Change this mark (M)"
                onClick={() => onGive({ row, total })}
              >
                ✎
              </button>
            </div>
          </td>
        ))
      ) : (
        <td colSpan={Math.max(1, columns)} className="border-b border-rule px-2 py-1.5 text-soft">
          {row.failure ? `${row.failure} This is no mark: grade it again.` : "not graded yet"}
        </td>
      )}
      <td className={`${RIGHT} border-b border-rule py-1.5 whitespace-nowrap`}>
        {row.graded ? (
          <>
            <span className="font-semibold">{show(row.points)}</span>
            <span className="text-soft"> of {show(row.of)}</span>
            {row.because && (
              <span className="block text-[12px] text-ochre" title={row.because}>
                {row.late_days ? `${row.late_days} ${row.late_days === 1 ? "day" : "days"} late, was ${show(row.earned)}` : `was ${show(row.earned)}`}
              </span>
            )}
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
  const order = ["not read", "fail", "part", "not certain", "not exercised", "pass"];
  const margin = (mark: SheetMark) => mark.margin ?? Number.MAX_VALUE;
  return [...marks].sort((a, b) => order.indexOf(a.verdict) - order.indexOf(b.verdict) || margin(a) - margin(b))[0];
}

interface CellProps {
  total: SheetMark;
  roomy: boolean;
  row: number;
  column: number;
  given: number | undefined;
  marks: SheetMark[];
  handIn: number;
}

function Cell({ total, roomy, row, column, given, marks, handIn }: CellProps) {
  const shown = deciding(marks) ?? total;
  const query = new URLSearchParams({ case: shown.case, check: shown.check });
  if (shown.at !== null) query.set("at", String(shown.at));
  const margin = marginWords(shown.margin, shown.unit);
  return (
    <Link
      to={`/hand-ins/${handIn}?${query.toString()}`}
      className="flex items-center gap-2 rounded px-1.5 py-1 hover:bg-sunk"
      title={[`${shown.case}: ${shown.because}`, margin].filter(Boolean).join(" · ")}
      data-cell={total.check}
      data-row={row}
      data-column={column}
      tabIndex={row === 0 && column === 0 ? 0 : -1}
    >
      <VerdictMark verdict={total.verdict} size={18} />
      <span className="leading-tight">
        <span className="num font-semibold">{show(given ?? total.points)}</span>
        {given !== undefined && <span className="num text-[12px] text-ochre">{roomy ? ` yours, was ${show(total.points)}` : " yours"}</span>}
        <span className="sr-only">
          {" "}
          of {showPoints(total.of)}, {total.verdict}.
        </span>
        {roomy && total.verdict !== "pass" && <span className="num block text-[12px] whitespace-nowrap text-soft">{marginSign(shown.margin, shown.unit)}</span>}
      </span>
    </Link>
  );
}

function Distribution({ rows, checks }: { rows: SheetRow[]; checks: string[] }) {
  return (
    <tfoot>
      <tr>
        <th scope="row" className={`${LEFT} py-2 text-[13px] font-normal text-soft`}>
          class together
        </th>
        {checks.map((check) => {
          const marks = rows.flatMap((row) => row.marks.filter((mark) => mark.check === check && mark.case === ALL));
          const full = marks.filter((mark) => mark.verdict === "pass").length;
          return (
            <td key={check} className="px-2 py-2 text-[13px] whitespace-nowrap">
              <span className="block h-1.5 w-full max-w-24 rounded bg-clay-wash" aria-hidden="true">
                <span className="block h-full rounded bg-leaf" style={{ width: `${(full / Math.max(1, marks.length)) * 100}%` }} />
              </span>
              <span className="text-soft">
                {full} of {marks.length} pass
              </span>
            </td>
          );
        })}
        <td className={`${RIGHT} py-2 text-[13px] text-soft`}>
          mean {show(rows.reduce((sum, row) => sum + row.points, 0) / rows.length, "", 1)}
        </td>
      </tr>
    </tfoot>
  );
}
