import type { Case, Exercise, Rig } from "../api/generated";
import { namesOf } from "../model/checkDraft";
import { marginWords } from "../model/verdicts";
import { Trouble } from "../ui/Trouble";
import { useSettled } from "../ui/useSettled";
import { VerdictMark } from "../ui/VerdictMark";
import { EvidenceLanes } from "./EvidenceLanes";
import { useTried } from "./useTried";

interface Props {
  exercise: Exercise;
  rig: Rig;
  reference: string;
  /** The checks that are there, whose names the new one can use. */
  checks: string;
  item: Case | undefined;
  /** The check as text, and its sentence; null while there is none to try. */
  check: { text: string; sentence: string } | null;
}

/** What a check that is being written says about the reference, drawn over what it looks at. */
export function Tried({ exercise, rig, reference, checks, item, check }: Props) {
  const settled = useSettled(check, 120);
  const names = namesOf(checks);
  const tried = useTried(exercise, reference, item, settled && `${names}${names && "\n"}${settled.text}`);
  if (!item) return <p className="text-soft">Add a case to the exercise: a check is tried on it while you write it.</p>;
  if (tried.error) return <Trouble error={tried.error} />;
  if (!settled || !tried.data) return <p className="text-soft">Trying it on the reference …</p>;
  const { run, check_hints, checks: verdicts, world_problem } = tried.data;
  const wrong = check_hints.find((hint) => hint.level === "error");
  const verdict = wrong ? undefined : verdicts[0];
  if (!run) return <p className="text-soft">{world_problem?.message ?? "The reference has errors: mend it first, then checks can be tried on it."}</p>;
  return (
    <div className="space-y-2" aria-live="polite">
      {wrong && (
        <p className="rounded border border-clay bg-clay-wash px-2.5 py-1.5" data-tried="error">
          {wrong.message} {wrong.remedy}
        </p>
      )}
      {verdict && (
        <p className="flex items-start gap-2" data-tried={verdict.verdict}>
          <span className="pt-0.5">
            <VerdictMark verdict={verdict.verdict} size={16} />
          </span>
          <span>
            <b>{verdict.verdict}</b>
            {verdict.margin !== null && <span className="num text-soft"> · {marginWords(verdict.margin, verdict.unit)}</span>}
            <br />
            {verdict.because}
          </span>
        </p>
      )}
      <EvidenceLanes rig={rig} sentence={settled.sentence} readings={tried.readings} run={run} verdict={verdict} />
    </div>
  );
}
