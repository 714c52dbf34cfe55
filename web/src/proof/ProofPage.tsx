import { type ReactNode, useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useExercise, useProof } from "../api/hooks";
import { exercisesProofCreate, exercisesProofDestroy, type Proof } from "../api/generated";
import { marginWords } from "../model/verdicts";
import { Button } from "../ui/Button";
import { Progress } from "../ui/Progress";
import { Trouble } from "../ui/Trouble";
import { VerdictMark } from "../ui/VerdictMark";

type Found = NonNullable<Proof["found"]>;

/** Proofreading: which of the usual mistakes the checks of an exercise would let through. */
export function ProofPage() {
  const id = Number(useParams().id);
  const exercise = useExercise(id);
  const proof = useProof(id);
  const start = useChange(() => answer(exercisesProofCreate({ path: { id } })), "proof");
  const cancel = useChange(() => answer(exercisesProofDestroy({ path: { id } })), "proof");
  const error = exercise.error ?? proof.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!exercise.data || !proof.data) return <p className="p-6">Opening the proof …</p>;
  const { found, stale, job } = proof.data;
  return (
    <div className="mx-auto max-w-[1180px] px-6 py-4">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl font-bold">Proofreading</h1>
        <Link className="text-leaf underline underline-offset-2" to={`/exercises/${id}`}>
          {exercise.data.title}
        </Link>
        <span className="flex-1" />
        {stale && job?.state !== "running" && <span className="text-[14px] text-ochre">The exercise or Geduld has changed since.</span>}
        {job?.state === "running" ? (
          <Progress job={job} word="Program" onCancel={() => cancel.mutate(undefined)} />
        ) : (
          <Button strong={!found || stale} disabled={start.isPending} onClick={() => start.mutate(undefined)}>
            {found ? "Proofread again" : "Proofread"}
          </Button>
        )}
      </div>
      <Trouble error={start.error} />
      {job?.state === "failed" && <p className="mb-3 text-clay" role="alert">{job.problem}</p>}
      {found ? (
        <Findings found={found} exercise={id} />
      ) : (
        <p className="max-w-[60ch] text-soft">
          Geduld plants the usual mistakes in the reference behaviour, one at a time, and looks whether a check notices each of them. Then it says the same
          program in other words, which must keep full marks.
        </p>
      )}
    </div>
  );
}

function Findings({ found, exercise }: { found: Found; exercise: number }) {
  const numbered = found.mistakes.map((item, place) => ({ ...item, place }));
  const missed = numbered.filter((item) => item.outcome === "missed");
  const caught = numbered.filter((item) => item.outcome === "caught");
  const bench = (place: string) => `/exercises/${exercise}/proof/${place}`;
  return (
    <>
      <div className={`mb-5 flex items-center gap-4 rounded border px-4 py-3 ${found.proves ? "border-leaf bg-leaf-wash" : "border-ochre bg-ochre-wash"}`}>
        <p className="num text-3xl font-semibold whitespace-nowrap">
          {caught.length} of {found.mistakes.length}
        </p>
        <p className="leading-snug">
          <span className="block font-bold">{found.proves ? "This exercise can be given out." : "mistakes are caught: something is missing."}</span>
          {found.sentence}
        </p>
      </div>
      <div className="grid grid-cols-1 gap-x-8 gap-y-5 lg:grid-cols-[1.5fr_1fr]">
        <div className="space-y-5">
          {missed.length > 0 && (
            <Part title="Mistakes that no check notices" count={missed.length}>
              {missed.map((item) => (
                <Row key={item.place} to={bench(String(item.place))} mark={<Sign missed />} line={item.line} kind={item.kind} also={item.also}>
                  {item.what}
                </Row>
              ))}
            </Part>
          )}
          <Part title="Caught" count={caught.length} folded={missed.length > 0}>
            {caught.map((item) => (
              <Row key={item.place} to={bench(String(item.place))} mark={<Sign />} line={item.line} kind={item.kind} also={item.also}>
                {item.what}
                <span className="block text-[13px] text-soft">by {item.caught_by.join(", ") || "an error in the program"}</span>
              </Row>
            ))}
          </Part>
          {found.hidden.length > 0 && (
            <Part title="Change nothing in these cases" count={found.hidden.length} says="Only another case could show them, such as one in which what is waited for never comes.">
              {found.hidden.map((item, place) => (
                <Row key={place} to={bench(`hidden-${place}`)} mark={null} line={item.line} kind={item.kind} also={0}>
                  {item.what}
                </Row>
              ))}
            </Part>
          )}
          {(found.left_out?.length ?? 0) > 0 && (
            <Part title="Could not be tried" count={found.left_out.length} folded says="These count neither as caught nor as missed.">
              {found.left_out.map((item, place) => (
                <li key={place} className="flex items-start gap-2.5 px-3 py-1.5">
                  <span className="num w-16 shrink-0 whitespace-nowrap text-soft">line {item.line}</span>
                  <span className="w-40 shrink-0">{item.kind}</span>
                  <span className="min-w-0 flex-1 leading-snug">
                    {item.what}
                    <span className="block text-[13px] text-soft">{item.why}</span>
                  </span>
                </li>
              ))}
            </Part>
          )}
          {(found.no_place?.length ?? 0) > 0 && (
            <p className="text-[13px] text-soft">The reference has no place for: {found.no_place.join(", ")}.</p>
          )}
        </div>
        <div className="space-y-5">
          <Part title="The reference itself" count={found.reference.length}>
            {found.reference.map((mark) => (
              <li key={mark.check} className="flex items-start gap-2.5 px-3 py-2">
                <VerdictMark verdict={mark.verdict} size={18} />
                <span className="leading-snug">
                  <b>{mark.check}</b> <span className="num text-[13px] text-soft">{marginWords(mark.margin, mark.unit)}</span>
                  {mark.verdict !== "pass" && <span className="block text-[13px]">{mark.because}</span>}
                </span>
              </li>
            ))}
          </Part>
          <Part title="The same in other words" count={found.rewrites.length}>
            {found.rewrites.map((item) => (
              <li key={item.what} className="flex items-start gap-2.5 px-3 py-2">
                <VerdictMark verdict={item.lost.length ? "fail" : "pass"} size={18} />
                <span className="leading-snug">
                  {item.what}
                  {item.lost.map((mark) => (
                    <span key={mark.check} className="block text-[13px]">
                      {mark.check}: {mark.because}
                    </span>
                  ))}
                </span>
              </li>
            ))}
          </Part>
        </div>
      </div>
    </>
  );
}

interface PartProps {
  title: string;
  count: number;
  folded?: boolean;
  says?: string;
  children: ReactNode;
}

function Part({ title, count, folded = false, says, children }: PartProps) {
  const [open, setOpen] = useState(!folded);
  return (
    <section aria-label={title}>
      <h2>
        <button type="button" className="flex items-baseline gap-2 font-bold" aria-expanded={open} onClick={() => setOpen(!open)}>
          <span className="w-3 text-soft" aria-hidden="true">
            {open ? "–" : "+"}
          </span>
          {title} <span className="num text-[13px] font-normal text-soft">{count}</span>
        </button>
      </h2>
      {says && open && <p className="ml-5 text-[13px] text-soft">{says}</p>}
      {open && <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet text-[14px]">{children}</ul>}
    </section>
  );
}

interface RowProps {
  to: string;
  mark: ReactNode;
  line: number;
  kind: string;
  also: number;
  children: ReactNode;
}

/** One mistake; it opens on the bench. */
function Row({ to, mark, line, kind, also, children }: RowProps) {
  return (
    <li>
      <Link to={to} className="flex items-start gap-2.5 px-3 py-1.5 hover:bg-sunk">
        {mark}
        <span className="num w-16 shrink-0 whitespace-nowrap text-soft">line {line}</span>
        <span className="w-40 shrink-0">{kind}</span>
        <span className="min-w-0 flex-1 leading-snug">{children}</span>
        {also > 0 && <span className="text-[13px] whitespace-nowrap text-soft">and {also} alike</span>}
      </Link>
    </li>
  );
}

/** A net: whole where a mistake is caught, with a hole where it goes through. */
function Sign({ missed = false }: { missed?: boolean }) {
  const colour = missed ? "var(--clay)" : "var(--leaf)";
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" className="mt-0.5 shrink-0" role="img" aria-label={missed ? "missed" : "caught"}>
      <g stroke={colour} strokeWidth="1.5" fill="none">
        <path d={missed ? "M2 2V16M16 2V16M2 2H16M2 16H16M9 2V5M9 13V16M2 9H5M13 9H16" : "M2 2V16M9 2V16M16 2V16M2 2H16M2 9H16M2 16H16"} />
        {missed && <circle cx="9" cy="9" r="2.6" fill={colour} />}
      </g>
    </svg>
  );
}
