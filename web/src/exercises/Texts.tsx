import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { type RefObject, useMemo, useRef, useState } from "react";

import { useHandIns, usePreview } from "../api/hooks";
import type { Exercise, Floor, Hint, NotationWords, Rig } from "../api/generated";
import { Editor, type EditorApi } from "../bench/Editor";
import { Messages } from "../bench/Messages";
import { notation } from "../bench/notation";
import { ChecksPane } from "../checks/ChecksPane";
import { useSettled } from "../ui/useSettled";
import { worldOf } from "../model/hands";
import { Pane, Panes } from "../ui/Panes";
import { Trouble } from "../ui/Trouble";
import { Preview } from "./Preview";

interface Props {
  exercise: Exercise;
  rig: Rig;
  floors: Floor[];
  words: NotationWords;
  reference: string;
  checks: string;
  onChange: (part: { reference: string } | { checks: string }) => void;
}

const NONE: Hint[] = [];
const TAB = "rounded-t border border-b-0 border-rule px-3 py-1 text-[14px] data-selected:bg-sheet data-selected:font-bold";

/** Checks and reference as text, with what the checks say about the reference in every case. */
export function Texts({ exercise, rig, floors, words, reference, checks, onChange }: Props) {
  const referenceEditor = useRef<EditorApi | null>(null);
  const extensions = useMemo(() => notation(words, rig), [words, rig]);
  const received = useHandIns(exercise.id).data;
  const [subject, setSubject] = useState("");
  const question = useSettled(
    useMemo(() => {
      const handIn = received?.find((item) => String(item.id) === subject);
      const language = handIn?.language ?? "notation";
      return { rig: rig.id, text: handIn?.text ?? reference, language, wordbooks: exercise.wordbooks ?? [], checks, reference };
    }, [rig.id, received, subject, reference, checks, exercise.wordbooks]),
    150,
  );
  // What was there before stays until the new answers are: the text would jump if the table went and came back.
  const preview = usePreview(question, exercise.cases.map(worldOf));
  const shown = preview.data ?? [];
  const first = shown[0];
  return (
    <Panes id="checks" upright>
      <Pane id="written" size="56%" least={200}>
        <TabGroup className="flex h-full flex-col pb-2 pl-3">
          <TabList className="flex gap-1">
            <Tab className={TAB}>Checks</Tab>
            <Tab className={TAB}>Reference behaviour</Tab>
          </TabList>
          <TabPanels className="min-h-0 flex-1 border border-rule bg-sheet">
            <TabPanel className="h-full">
              <ChecksPane
                exercise={exercise}
                rig={rig}
                floors={floors}
                words={words}
                reference={reference}
                checks={checks}
                hints={first?.check_hints ?? exercise.problems.checks}
                onText={(text) => onChange({ checks: text })}
              />
            </TabPanel>
            <TabPanel className="flex h-full flex-col">
              <div className="min-h-0 flex-1">
                <Editor
                  label="Reference behaviour. Escape, then Tab leaves it."
                  text={reference}
                  hints={(subject ? null : first?.hints) ?? exercise.problems.reference}
                  notation={extensions}
                  onChange={(text) => onChange({ reference: text })}
                  onReady={(api) => (referenceEditor.current = api)}
                />
              </div>
              <Said hints={(subject ? null : first?.hints) ?? exercise.problems.reference} editor={referenceEditor} />
            </TabPanel>
          </TabPanels>
        </TabGroup>
      </Pane>
      <Pane id="said" bar="Height of the texts" least={120}>
        <section aria-label="What the checks say" tabIndex={0} className="relative h-full overflow-auto pt-2 pl-3">
          <h2 className="font-bold">
            What the checks say about{" "}
            <select className="rounded border border-rule bg-sheet px-1 py-0.5 font-bold" aria-label="Whose program" value={subject} onChange={(event) => setSubject(event.target.value)}>
              <option value="">the reference</option>
              {(received ?? []).filter((item) => !item.recorded).map((item) => (
                <option key={item.id} value={String(item.id)}>
                  {item.student}
                </option>
              ))}
            </select>{" "}
            <span className="text-[13px] font-normal text-soft">what is to spare (+) or missing (−), and when it was tested</span>
          </h2>
          <Trouble error={preview.error} />
          <Preview
            exercise={exercise}
            answers={shown.length === exercise.cases.length ? shown : exercise.cases.map(() => undefined)}
            bench={subject ? `/hand-ins/${subject}` : `/exercises/${exercise.id}/bench`}
          />
        </section>
      </Pane>
    </Panes>
  );
}

function Said({ hints, editor }: { hints: Hint[]; editor: RefObject<EditorApi | null> }) {
  return hints === NONE || !hints.length ? null : (
    <div className="max-h-28 overflow-auto border-t border-rule">
      <Messages hints={hints} onLine={(line) => editor.current?.goTo(line)} onFix={(hint) => editor.current?.mend(hint)} />
    </div>
  );
}
