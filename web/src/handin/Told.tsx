import type { CheckTold, Feedback, Hint } from "../api/generated";
import { show, showPoints } from "../model/numbers";
import { marginSign, meaning } from "../model/verdicts";
import { VerdictMark } from "../ui/VerdictMark";
import { RunPicture } from "./RunPicture";

/** What Geduld says of a try: what it could not do, how each public check went, messages at their lines, and the run. */
export function Told({ feedback, text, onLine }: { feedback: Feedback; text: string; onLine: (line: number) => void }) {
  const errors = feedback.hints.filter((hint) => hint.level === "error");
  const others = feedback.hints.filter((hint) => hint.level !== "error");
  return (
    <div className="space-y-3">
      {feedback.problem && !errors.length && <p className="rounded border border-clay bg-clay-wash px-3 py-2">{feedback.problem}</p>}
      {feedback.problem && <p className="text-[14px]">This try does not count: it uses up none, and your last one that could be run stays.</p>}
      <Hints title={errors.length ? "It could not be run: mend this first" : ""} hints={errors} onLine={onLine} />
      <Checks checks={feedback.checks} />
      <Hints title="Look at this too" hints={others} onLine={onLine} />
      {feedback.picture && <RunPicture picture={feedback.picture} text={text} />}
      {feedback.understood.length > 0 && (
        <details className="rounded border border-rule px-3 py-2">
          <summary className="cursor-pointer font-bold">What Geduld understood of your program</summary>
          <ol className="mt-1.5 space-y-0.5 text-[14px]">
            {feedback.understood.map((line, index) => (
              <li key={index} style={{ paddingLeft: `${line.level}em` }}>
                <button type="button" className="num text-soft underline" onClick={() => onLine(line.line)}>
                  {line.line}
                </button>{" "}
                {line.text}
              </li>
            ))}
          </ol>
        </details>
      )}
    </div>
  );
}

function Hints({ title, hints, onLine }: { title: string; hints: Hint[]; onLine: (line: number) => void }) {
  if (!hints.length) return null;
  return (
    <section aria-label={title}>
      <h3 className="font-bold">{title}</h3>
      <ul className="space-y-1.5">
        {hints.map((hint, index) => (
          <li key={index} className={`rounded border px-3 py-1.5 ${hint.level === "error" ? "border-clay bg-clay-wash" : "border-rule bg-ochre-wash"}`}>
            <button type="button" className="min-h-6 font-bold underline underline-offset-2" onClick={() => onLine(hint.line)}>
              Line {hint.line}
            </button>
            : {hint.message} <span className="text-soft">{hint.remedy}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How public checks went, each as a shape, a word and a sentence. */
export function Checks({ checks }: { checks: CheckTold[] }) {
  if (!checks.length) return null;
  return (
    <ul className="divide-y divide-rule rounded border border-rule bg-sheet" aria-label="Checks">
      {checks.map((check) => (
        <li key={check.check} className="flex gap-2.5 px-3 py-2" data-check={check.check} data-verdict={check.verdict}>
          <span className="pt-0.5">
            <VerdictMark verdict={check.verdict} size={18} />
          </span>
          <div className="min-w-0 flex-1">
            <p>
              <b>{check.check}</b>{" "}
              <span className="num inline-block text-[14px] whitespace-nowrap text-soft">
                {check.verdict}, {show(check.points)} of {showPoints(check.of)}
              </span>
            </p>
            <p className="text-[14px] text-soft">
              {check.because ? `${check.case ? `${check.case}: ` : ""}${check.because}` : meaning(check.verdict)}
              {marginSign(check.margin, check.unit) && " "}
              {marginSign(check.margin, check.unit) && <span className="num whitespace-nowrap">({marginSign(check.margin, check.unit)})</span>}
            </p>
          </div>
        </li>
      ))}
    </ul>
  );
}
