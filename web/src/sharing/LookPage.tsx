import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";

import { answer } from "../api/client";
import { lookCopyCreate, lookRetrieve, lookRunRetrieve, lookSheetRetrieve, meRetrieve, type Look } from "../api/generated";
import { useChange } from "../api/hooks";
import { RunPicture } from "../handin/RunPicture";
import { showMoment } from "../model/moments";
import { show, showPoints } from "../model/numbers";
import { totalsOf } from "../model/sheet";
import { marginSign } from "../model/verdicts";
import { Brief } from "../ui/Brief";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { VerdictMark } from "../ui/VerdictMark";
import { Brought } from "./Brought";
import { download } from "./download";

type Headers = { "X-Geduld-Look": string };

/** An exercise as a colleague sees it by a link. The link's secret stands behind the #, which no server gets to see. */
export function LookPage() {
  const [headers] = useState<Headers>({ "X-Geduld-Look": location.hash.slice(1) });
  const look = useQuery({ queryKey: ["look"], queryFn: ({ signal }) => answer(lookRetrieve({ headers, signal })), retry: false });
  return (
    <div className="mx-auto max-w-[1180px] px-5 pb-16">
      <header className="flex items-center gap-2 border-b border-rule py-2.5">
        <img src="/leaf.svg" alt="" width="20" height="20" />
        <span className="text-lg font-bold tracking-tight">Geduld</span>
        <span className="flex-1" />
        {look.data && <span className="text-[14px] text-soft">{look.data.teacher} shows you this exercise; you cannot change it.</span>}
      </header>
      <main className="pt-4">
        {look.error && <Trouble error={look.error} />}
        {look.isPending && <p>Opening …</p>}
        {look.data && <Seen look={look.data} headers={headers} />}
      </main>
    </div>
  );
}

function Seen({ look, headers }: { look: Look; headers: Headers }) {
  const [chosen, setChosen] = useState(look.cases[0]?.name ?? "");
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <h1 className="min-w-0 flex-1 text-2xl font-bold">{look.title}</h1>
        <TakeIt headers={headers} />
      </div>
      <div className="grid grid-cols-1 gap-x-8 gap-y-5 lg:grid-cols-[1fr_1.1fr]">
        <div className="min-w-0 space-y-4">
          <Brief text={look.brief} />
          <p className="text-[14px] text-soft">
            For the rig {look.rig}. {look.due ? `Due ${showMoment(look.due)}` : "No deadline"}
            {look.due && look.late_per_day > 0 && `; each day late costs ${show(look.late_per_day * 100, "%", 1)}`}.
            {look.wordbooks.length > 0 && ` Hand-ins in Python and C by ${look.wordbooks.join(", ")}.`}
          </p>
          <Text title="Checks" text={look.checks} />
          <Text title="Reference" text={look.reference} />
        </div>
        <div className="min-w-0 space-y-4">
          <section aria-label="Cases">
            <h2 className="text-lg font-bold">The reference in each case</h2>
            <div className="mt-1.5 flex flex-wrap gap-1.5">
              {look.cases.map((item) => (
                <Button key={item.name} small active={item.name === chosen} aria-pressed={item.name === chosen} title={item.place} onClick={() => setChosen(item.name)}>
                  {item.name}
                </Button>
              ))}
            </div>
            {chosen && <Case key={chosen} name={chosen} text={look.reference} headers={headers} />}
          </section>
        </div>
      </div>
      {look.marks && <Marks headers={headers} />}
    </>
  );
}

/** The zip for everybody; a copy for who is signed in. */
function TakeIt({ headers }: { headers: Headers }) {
  const me = useQuery({ queryKey: ["me"], queryFn: () => answer(meRetrieve()), retry: false });
  const take = useChange(() => download("/api/look/parcel", headers));
  const copy = useChange(() => answer(lookCopyCreate({ headers })), "exercises");
  return (
    <>
      <Button disabled={take.isPending} onClick={() => take.mutate(undefined)}>
        {take.isPending ? "Packing …" : "Save as a zip"}
      </Button>
      {me.data && (
        <Button strong disabled={copy.isPending || copy.isSuccess} onClick={() => copy.mutate(undefined)}>
          Copy to my shelf
        </Button>
      )}
      {copy.data && <div className="w-full"><Brought came={copy.data} /></div>}
      {(take.error ?? copy.error) && <div className="w-full"><Trouble error={take.error ?? copy.error} /></div>}
    </>
  );
}

function Case({ name, text, headers }: { name: string; text: string; headers: Headers }) {
  const run = useQuery({ queryKey: ["look run", name], queryFn: ({ signal }) => answer(lookRunRetrieve({ headers, query: { case: name }, signal })), retry: false, staleTime: Infinity });
  const [check, setCheck] = useState<string | null>(null);
  if (run.error) return <div className="mt-2"><Trouble error={run.error} /></div>;
  if (!run.data) return <p className="mt-2">Running it …</p>;
  const at = run.data.checks.find((item) => item.title === check)?.at ?? null;
  return (
    <div className="mt-3 space-y-3" data-case={name}>
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet" aria-label="Verdicts">
        {run.data.checks.map((item) => (
          <li key={item.title}>
            <button type="button" aria-pressed={item.title === check} className={`flex w-full gap-2.5 px-3 py-1.5 text-left ${item.title === check ? "bg-sunk" : ""}`} data-verdict={item.verdict} onClick={() => setCheck(item.title)}>
              <span className="pt-0.5">
                <VerdictMark verdict={item.verdict} size={16} />
              </span>
              <span className="min-w-0 flex-1">
                <b>{item.title}</b>{" "}
                <span className="num text-[13px] text-soft">
                  {item.verdict}
                  {marginSign(item.margin, item.unit) && `, ${marginSign(item.margin, item.unit)}`}, {showPoints(item.of)}
                </span>
                <span className="block text-[13px] text-soft">{item.because}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      <RunPicture picture={{ ...run.data.picture, at }} text={text} whose="The reference" />
    </div>
  );
}

function Text({ title, text }: { title: string; text: string }): ReactNode {
  return (
    <section aria-label={title}>
      <h2 className="mb-1 text-lg font-bold">{title}</h2>
      <pre className="num max-h-[420px] overflow-auto rounded border border-rule bg-sheet p-3 text-[13px] leading-[1.45] whitespace-pre-wrap" tabIndex={0}>
        {text || "Nothing yet."}
      </pre>
    </section>
  );
}

/** The class, to be read. */
function Marks({ headers }: { headers: Headers }) {
  const sheet = useQuery({ queryKey: ["look sheet"], queryFn: ({ signal }) => answer(lookSheetRetrieve({ headers, signal })), retry: false });
  if (sheet.error) return <Trouble error={sheet.error} />;
  const rows = sheet.data?.rows ?? [];
  const checks = rows.filter((row) => row.graded && !row.problem).slice(0, 1).flatMap(totalsOf);
  return (
    <section className="mt-6 overflow-x-auto" aria-label="Marks">
      <h2 className="mb-1 text-lg font-bold">Marks</h2>
      <table className="w-full border-collapse text-[14px]">
        <thead>
          <tr className="text-left align-bottom">
            {["Student", ...checks.map((check) => check.check), "Points"].map((word) => (
              <th key={word} scope="col" className="border-b-2 border-ink py-1 pr-3 last:text-right">
                {word}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.hand_in} data-student={row.student}>
              <th scope="row" className="border-b border-rule py-1 pr-3 text-left whitespace-nowrap">
                {row.student}
              </th>
              {row.problem || !row.graded ? (
                <td colSpan={Math.max(1, checks.length)} className="border-b border-rule py-1 pr-3 text-soft">
                  {row.problem || "not graded yet"}
                </td>
              ) : (
                totalsOf(row).map((mark) => (
                  <td key={mark.check} className="border-b border-rule py-1 pr-3" title={mark.because}>
                    <span className="flex items-center gap-1.5">
                      <VerdictMark verdict={mark.verdict} size={14} />
                      <span className="num">{show(row.given[mark.check] ?? mark.points)}</span>
                      <span className="sr-only">
                        of {showPoints(mark.of)}, {mark.verdict}
                      </span>
                    </span>
                  </td>
                ))
              )}
              <td className="num border-b border-rule py-1 text-right whitespace-nowrap">{row.graded ? `${show(row.points)} of ${show(row.of)}` : "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
