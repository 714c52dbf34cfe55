import { Link } from "react-router";

import type { BenchAnswer, Exercise, Verdict } from "../api/generated";
import { marginSign } from "../model/verdicts";
import { VerdictMark } from "../ui/VerdictMark";
import { Windows } from "../ui/Windows";

interface Props {
  exercise: Exercise;
  answers: (BenchAnswer | undefined)[];
  /** The bench that shows the program, without a query. */
  bench: string;
}

/** Checks by cases: the verdict, the margin, and when it was tested. A cell opens the bench there. */
export function Preview({ exercise, answers, bench }: Props) {
  const checks = answers.find((answer) => answer?.checks.length)?.checks ?? [];
  if (!exercise.cases.length) return <p className="text-[14px] text-soft">Add a case to see it.</p>;
  if (!checks.length) return <p className="text-[14px] text-soft">Nothing yet: the reference and the checks must be without errors.</p>;
  return (
    <table className="w-full table-fixed border-collapse text-[14px]">
      <thead>
        <tr className="text-left text-[13px] text-soft">
          <th scope="col" className="w-[26%] border-b border-rule py-1 pr-3 font-normal">
            check
          </th>
          {exercise.cases.map((item) => (
            <th key={item.id} scope="col" className="truncate border-b border-rule py-1 pr-3 font-normal">
              {item.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {checks.map((check, row) => (
          <tr key={check.title}>
            <th scope="row" className="border-b border-rule py-1 pr-3 text-left font-normal">
              {check.title}
            </th>
            {exercise.cases.map((item, index) => {
              const found = answers[index]?.checks[row];
              const lasted = answers[index]?.run?.lasted;
              return (
                <td key={item.id} className="border-b border-rule py-0.5 pr-3">
                  {found && lasted !== undefined && <Cell to={`${bench}?${query(item.name, found)}`} found={found} lasted={lasted} />}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function query(name: string, found: Verdict): string {
  const asked = new URLSearchParams({ case: name, check: found.title });
  if (found.at !== null) asked.set("at", String(found.at));
  return asked.toString();
}

function Cell({ to, found, lasted }: { to: string; found: Verdict; lasted: number }) {
  return (
    <Link to={to} className="block rounded px-1 py-0.5 hover:bg-sunk" title={found.because}>
      <span className="flex items-center gap-1.5">
        <VerdictMark verdict={found.verdict} size={14} />
        <span className="num truncate text-[13px]">{marginSign(found.margin, found.unit) || found.verdict}</span>
        <span className="sr-only">{found.verdict}</span>
      </span>
      <span className="relative mt-0.5 block h-[6px] overflow-hidden border-b border-rule" aria-hidden="true">
        <Windows check={found} from={0} to={lasted} className="inset-y-0" />
      </span>
    </Link>
  );
}
