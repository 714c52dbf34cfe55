import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useQueries } from "@tanstack/react-query";
import { type RefObject, useMemo, useRef } from "react";

import { api } from "../api/client";
import type { BenchAnswer, Exercise, Hint, NotationWords, Rig } from "../api/types";
import { Editor, type EditorApi } from "../bench/Editor";
import { Messages } from "../bench/Messages";
import { notation } from "../bench/notation";
import { useSettled } from "../bench/useSettled";
import { marginWords } from "../model/verdicts";
import { VerdictMark } from "../ui/VerdictMark";

interface Props {
  exercise: Exercise;
  rig: Rig;
  words: NotationWords;
  reference: string;
  checks: string;
  onChange: (part: { reference: string } | { checks: string }) => void;
}

const NONE: Hint[] = [];
const TAB = "rounded-t border border-b-0 border-rule px-3 py-1 text-[14px] data-selected:bg-sheet data-selected:font-bold";

/** Checks and reference as text, with what the checks say about the reference in every case. */
export function Texts({ exercise, rig, words, reference, checks, onChange }: Props) {
  const checksEditor = useRef<EditorApi | null>(null);
  const referenceEditor = useRef<EditorApi | null>(null);
  const extensions = useMemo(() => notation(words, rig), [words, rig]);
  const question = useSettled(
    useMemo(() => ({ rig: rig.id, text: reference, checks }), [rig.id, reference, checks]),
    150,
  );
  const runs = useQueries({
    queries: exercise.cases.map((item) => ({
      queryKey: ["preview", question, item.trace, item.limit_us],
      queryFn: () =>
        api.post<BenchAnswer>("bench/run", { ...question, trace: item.trace, limit: item.limit_us ? item.limit_us / 1e6 : null }),
      staleTime: Infinity,
      placeholderData: (before: BenchAnswer | undefined) => before,
    })),
  });
  const first = runs[0]?.data;
  return (
    <div className="flex min-h-0 flex-col gap-3">
      <TabGroup className="flex min-h-[230px] flex-1 flex-col">
        <TabList className="flex gap-1">
          <Tab className={TAB}>Checks</Tab>
          <Tab className={TAB}>Reference behaviour</Tab>
        </TabList>
        <TabPanels className="min-h-0 flex-1 border border-rule bg-sheet">
          <TabPanel className="flex h-full flex-col">
            <div className="min-h-0 flex-1">
              <Editor
                label="Checks. Escape, then Tab leaves it."
                text={checks}
                hints={first?.check_hints ?? exercise.problems.checks}
                notation={extensions}
                onChange={(text) => onChange({ checks: text })}
                onReady={(api) => (checksEditor.current = api)}
              />
            </div>
            <Said hints={first?.check_hints ?? exercise.problems.checks} editor={checksEditor} />
          </TabPanel>
          <TabPanel className="flex h-full flex-col">
            <div className="min-h-0 flex-1">
              <Editor
                label="Reference behaviour. Escape, then Tab leaves it."
                text={reference}
                hints={first?.hints ?? exercise.problems.reference}
                notation={extensions}
                onChange={(text) => onChange({ reference: text })}
                onReady={(api) => (referenceEditor.current = api)}
              />
            </div>
            <Said hints={first?.hints ?? exercise.problems.reference} editor={referenceEditor} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
      <section aria-label="The reference in every case" className="shrink-0 overflow-auto">
        <h2 className="font-bold">What the checks say about the reference</h2>
        <Preview exercise={exercise} answers={runs.map((run) => run.data)} />
      </section>
    </div>
  );
}

function Said({ hints, editor }: { hints: Hint[]; editor: RefObject<EditorApi | null> }) {
  return hints === NONE || !hints.length ? null : (
    <div className="max-h-28 overflow-auto border-t border-rule">
      <Messages hints={hints} onLine={(line) => editor.current?.goTo(line)} onFix={(hint) => editor.current?.mend(hint)} />
    </div>
  );
}

function Preview({ exercise, answers }: { exercise: Exercise; answers: (BenchAnswer | undefined)[] }) {
  const checks = answers.find((answer) => answer?.checks.length)?.checks ?? [];
  if (!exercise.cases.length) return <p className="text-[14px] text-soft">Add a case to see it.</p>;
  if (!checks.length) return <p className="text-[14px] text-soft">Nothing yet: the reference and the checks must be without errors.</p>;
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="text-left text-[13px] text-soft">
          <th scope="col" className="border-b border-rule py-1 pr-3 font-normal">
            check
          </th>
          {exercise.cases.map((item) => (
            <th key={item.id} scope="col" className="border-b border-rule py-1 pr-3 font-normal">
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
            {answers.map((answer, index) => {
              const found = answer?.checks[row];
              return (
                <td key={index} className="border-b border-rule py-1 pr-3" title={found?.because}>
                  {found && (
                    <span className="flex items-center gap-1.5">
                      <VerdictMark verdict={found.verdict} size={14} />
                      <span className="num text-[13px]">{marginWords(found.margin, found.unit) || found.verdict}</span>
                    </span>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
