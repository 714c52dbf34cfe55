import { useMemo, useRef, useState } from "react";

import type { Exercise, Floor, Hint, NotationWords, Rig } from "../api/generated";
import { Editor, type EditorApi } from "../bench/Editor";
import { Messages } from "../bench/Messages";
import { notation } from "../bench/notation";
import { StepList } from "../bench/StepList";
import { placesOf } from "../floors/plan";
import { checkFormsOf } from "../model/checkForms";
import { Button } from "../ui/Button";
import { CheckInserter } from "./CheckInserter";

interface Props {
  exercise: Exercise;
  rig: Rig;
  floors: Floor[];
  words: NotationWords;
  reference: string;
  checks: string;
  hints: Hint[];
  onText: (checks: string) => void;
}

const NO_LINES: number[] = [];
const NOTHING = () => undefined;

/** The checks of an exercise, as text or as a list, with the messages about them. */
export function ChecksPane({ exercise, rig, floors, words, reference, checks, hints, onText }: Props) {
  const editor = useRef<EditorApi | null>(null);
  const [listed, setListed] = useState(false);
  const [writing, setWriting] = useState(false);
  const [at, setAt] = useState(1);
  const places = useMemo(() => placesOf(floors.filter((floor) => exercise.cases.some((item) => item.floor === floor.id))), [floors, exercise.cases]);
  const extensions = useMemo(() => notation(words, rig, checkFormsOf(words.sentences, rig, places)), [words, rig, places]);
  const write = (check: string) => {
    const before = checks.trimEnd();
    const text = `${before}${before && "\n\n"}${check}`;
    const line = text.slice(0, -check.length).split("\n").length;
    setWriting(false);
    onText(text);
    setAt(line);
    setTimeout(() => editor.current?.goTo(line), 60); // the dialog gives the focus back first
  };
  return (
    <div className="flex h-full flex-col">
      <div className="flex gap-1.5 border-b border-rule px-2 py-1.5">
        <Button small active={!listed} aria-pressed={!listed} onClick={() => setListed(false)}>
          Text
        </Button>
        <Button small active={listed} aria-pressed={listed} onClick={() => setListed(true)}>
          List
        </Button>
        <span className="flex-1" />
        {!listed && (
          <Button small onClick={() => setWriting(true)} title="Ctrl+Enter in the text" aria-keyshortcuts="Control+Enter">
            New check …
          </Button>
        )}
      </div>
      {listed && (
        <div className="min-h-0 flex-1">
          <StepList text={checks} of="check" lit={NO_LINES} line={at} onLine={setAt} onHover={NOTHING} onText={onText} onInsert={() => setWriting(true)} />
        </div>
      )}
      <div className={listed ? "hidden" : "min-h-0 flex-1"}>
        <Editor
          label="Checks. Escape, then Tab leaves it."
          text={checks}
          hints={hints}
          notation={extensions}
          onChange={onText}
          onLine={setAt}
          onInsert={() => setWriting(true)}
          onReady={(api) => (editor.current = api)}
        />
      </div>
      {hints.length > 0 && (
        <div className="max-h-28 overflow-auto border-t border-rule">
          <Messages hints={hints} onLine={(line) => editor.current?.goTo(line)} onFix={(hint) => editor.current?.mend(hint)} />
        </div>
      )}
      {writing && (
        <CheckInserter
          exercise={exercise}
          rig={rig}
          sentences={words.sentences}
          places={places}
          reference={reference}
          checks={checks}
          onWrite={write}
          onClose={() => setWriting(false)}
        />
      )}
    </div>
  );
}
