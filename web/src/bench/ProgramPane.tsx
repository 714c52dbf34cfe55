import { type ReactNode, type RefObject, useCallback, useMemo, useState } from "react";

import { useNotation } from "../api/hooks";
import type { Hint, Lane, Rig, Trace } from "../api/generated";
import type { Language } from "../model/languages";
import { placeBelow } from "../model/steps";
import { Button } from "../ui/Button";
import { Editor, type EditorApi } from "./Editor";
import { codeIn } from "./languages";
import { Messages } from "./Messages";
import { notation } from "./notation";
import { StepInserter } from "./StepInserter";
import { StepList } from "./StepList";

interface Props {
  title: ReactNode;
  notice?: ReactNode;
  rig: Rig;
  trace: Trace | null;
  readings: Lane[];
  text: string;
  language: Language;
  hints: Hint[];
  lit: number[];
  /** What a reader of the screen hears when the run has changed. */
  heard: string;
  trail: { undo: (() => void) | undefined; redo: (() => void) | undefined };
  editorRef: RefObject<EditorApi | null>;
  /** Whether what the program was understood as stands beside it. */
  aloud: boolean;
  onAloud: (aloud: boolean) => void;
  onReady: (api: EditorApi) => void;
  onText: (text: string) => void;
  onHover: (line: number | null) => void;
  /** Why a line did not run; undefined where that cannot be asked. */
  onWhyNot?: (line: number) => void;
}

/** The program, as text or as steps, with the messages about it. */
export function ProgramPane(props: Props) {
  const { rig, trace, readings, text, language, hints, lit, trail, editorRef, aloud, onText, onHover, onWhyNot } = props;
  const words = useNotation().data;
  const [asSteps, setAsSteps] = useState(false);
  const [inserting, setInserting] = useState(false);
  const [at, setAt] = useState(1); // the line on which the text's cursor stands
  const extensions = useMemo(() => (language !== "notation" ? codeIn(language) : words ? notation(words, rig) : []), [words, rig, language]);
  const insert = (form: string) => {
    setAsSteps(false); // its slots are gone through in the text
    const { after, indent } = placeBelow(text, at);
    setTimeout(() => editorRef.current?.insertBelow(form, after, indent), 60); // the dialog gives the focus back first
  };
  const mend = useCallback((hint: Hint) => editorRef.current?.mend(hint), [editorRef]);
  const toLine = useCallback((line: number) => editorRef.current?.goTo(line), [editorRef]);
  return (
    <section
      className="relative flex h-full flex-col bg-sheet"
      aria-label="Program"
    >
      <div className="border-b border-rule px-3 py-2">
        {props.title}
        <div className="mt-2 flex flex-wrap gap-1.5">
          {language === "notation" ? (
            <>
              <Button small active={!asSteps} aria-pressed={!asSteps} onClick={() => setAsSteps(false)}>
                Text
              </Button>
              <Button small active={asSteps} aria-pressed={asSteps} onClick={() => setAsSteps(true)}>
                Steps
              </Button>
              <span className="flex-1" />
              {!asSteps && (
                <Button small onClick={() => setInserting(true)} title="Ctrl+Enter in the text" aria-keyshortcuts="Control+Enter">
                  New step …
                </Button>
              )}
            </>
          ) : (
            <Button small active={aloud} aria-pressed={aloud} onClick={() => props.onAloud(!aloud)}>
              What Geduld understood
            </Button>
          )}
        </div>
      </div>
      {props.notice}
      {asSteps && (
        <div className="min-h-0 flex-1">
          <StepList text={text} lit={lit} line={at} onLine={setAt} onHover={onHover} onText={onText} onInsert={() => setInserting(true)} />
        </div>
      )}
      <div className={asSteps ? "hidden" : "min-h-0 flex-1"}>
        <Editor
          label="Program text. Escape, then Tab leaves it."
          text={text}
          hints={hints}
          notation={extensions}
          lit={lit}
          trail={trail}
          onChange={onText}
          onHoverLine={onHover}
          onLine={setAt}
          onInsert={language === "notation" ? () => setInserting(true) : undefined}
          onReady={props.onReady}
        />
      </div>
      <p className="sr-only" role="status">{props.heard}</p>
      <div className="relative max-h-[34%] overflow-auto border-t border-rule">
        {onWhyNot && (
          <p className="float-right mt-1.5 mr-2">
            <Button small onClick={() => onWhyNot(at)} title="Whether the line on which the cursor stands ran, and if not, what kept it from that">
              Did line {at} run?
            </Button>
          </p>
        )}
        <Messages hints={hints} onLine={toLine} onFix={mend} />
      </div>
      {language === "notation" && inserting && (
        <StepInserter rig={rig} trace={trace?.id ?? null} readings={readings} line={at} onInsert={insert} onClose={() => setInserting(false)} />
      )}
    </section>
  );
}
