import { DialogTitle } from "@headlessui/react";
import { type FormEvent, type ReactNode, useMemo, useState } from "react";

import type { CheckSentence, Exercise, Rig } from "../api/generated";
import { useLevels } from "../bench/useLevels";
import { checkText, firstFillings, sentenceWith, titleFor } from "../model/checkDraft";
import { conditionsOnOutputs, type Places, sentencesOf } from "../model/checkForms";
import type { Form } from "../model/forms";
import { conditionsOf } from "../model/suggested";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { ChooseSentence } from "./ChooseSentence";
import { FillSentence } from "./FillSentence";
import { Tried } from "./Tried";
import { useTried } from "./useTried";

interface Props {
  exercise: Exercise;
  rig: Rig;
  sentences: CheckSentence[];
  places: Places;
  reference: string;
  checks: string;
  onWrite: (check: string) => void;
  onClose: () => void;
}

/** A check as text, and its sentence. */
type Shown = { text: string; sentence: string } | null;

interface Draft {
  sentence: Form;
  fillings: string[];
  /** Null while the sentence suggests it. */
  title: string | null;
  points: string;
}

const PANES = "grid min-h-0 flex-1 grid-cols-1 gap-4 md:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]";

/** Writes a check without typing its words: a sentence is chosen and filled, and what it says is drawn meanwhile. */
export function CheckInserter({ exercise, rig, sentences, places, reference, checks, onWrite, onClose }: Props) {
  const [name, setName] = useState(exercise.cases[0]?.name ?? "");
  const [draft, setDraft] = useState<Draft | null>(null);
  const item = exercise.cases.find((each) => each.name === name);
  const { readings } = useTried(exercise, reference, item, "");
  const { sensors, levels } = useLevels(rig, item?.trace ?? null, readings);
  const seen = conditionsOf(sensors, readings, levels);
  const sentence = draft ? sentenceWith(draft.sentence.insert, draft.fillings) : "";
  const title = draft?.title ?? titleFor(sentence, checks);
  const text = draft ? checkText(title, draft.points, sentence) : "";
  const check = useMemo(() => (text ? { text, sentence } : null), [text, sentence]);
  const change = (part: Partial<Draft>) => setDraft((before) => before && { ...before, ...part });
  const write = (event: FormEvent) => {
    event.preventDefault();
    onWrite(text);
  };
  const tried = (shown: Shown) => (
    <section aria-label="What it says about the reference" className="flex min-h-0 flex-col gap-2 overflow-auto rounded border border-rule bg-sheet p-3 text-[14px] leading-snug">
      <h3 className="flex flex-wrap items-center gap-2 text-[13px] text-soft">
        What it says about the reference in
        <select className="min-w-0 rounded border border-rule bg-sheet px-1 py-0.5 text-ink" aria-label="Case on which it is tried" value={name} onChange={(event) => setName(event.target.value)}>
          {exercise.cases.map((each) => (
            <option key={each.id}>{each.name}</option>
          ))}
        </select>
      </h3>
      <Tried exercise={exercise} rig={rig} reference={reference} checks={checks} item={item} check={shown} />
    </section>
  );
  return (
    <Overlay onClose={onClose} className="flex h-[min(620px,94vh)] w-[min(1060px,96vw)] flex-col p-4">
      <DialogTitle className="mb-2 text-lg font-bold">{draft ? "A new check: fill its slots" : "A new check: what does it ask?"}</DialogTitle>
      {draft ? (
        <form onSubmit={write} className="flex min-h-0 flex-1 flex-col">
          <div className={PANES}>
            <FillSentence
              sentence={draft.sentence}
              title={title}
              points={draft.points}
              fillings={draft.fillings}
              offered={[...seen, ...conditionsOnOutputs(rig)]}
              onTitle={(value) => change({ title: value })}
              onPoints={(points) => change({ points })}
              onFillings={(fillings) => change({ fillings })}
            />
            {tried(check)}
          </div>
          <div className="mt-3 flex items-center gap-2 text-[13px] text-soft">
            <span className="flex-1">Tab goes from slot to slot, Enter writes the check.</span>
            <Button onClick={() => setDraft(null)}>Another sentence</Button>
            <Button strong type="submit">
              Write the check
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </form>
      ) : (
        <>
          <div className={PANES}>
            <ChooseSentence
              sentences={sentencesOf(sentences, rig, places, seen)}
              onChoose={(chosen) => setDraft({ sentence: chosen, fillings: firstFillings(chosen.insert), title: null, points: "1" })}
              onClose={onClose}
              beside={(shown) => <OfForm form={shown} draw={tried} />}
            />
          </div>
          <div className="mt-3 flex items-center gap-2 text-[13px] text-soft">
            <span className="flex-1">Up and down show each sentence at work, Enter takes it.</span>
            <Button onClick={onClose}>Close</Button>
          </div>
        </>
      )}
    </Overlay>
  );
}

/** The sentence on which the cursor stands, with the values that it comes with. */
function OfForm({ form, draw }: { form: Form | null; draw: (check: Shown) => ReactNode }) {
  const check = useMemo(() => {
    if (!form) return null;
    const sentence = sentenceWith(form.insert, firstFillings(form.insert));
    return { text: checkText("Tried", "1", sentence), sentence };
  }, [form]);
  return draw(check);
}
