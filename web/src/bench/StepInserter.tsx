import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, DialogTitle } from "@headlessui/react";
import { useState } from "react";

import type { Lane, Rig } from "../api/generated";
import { type Form, formsOf } from "../model/forms";
import { conditionsOf } from "../model/suggested";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { useLevels } from "./useLevels";

interface Props {
  rig: Rig;
  /** The open trace, whose levels give numbers that mean something, and what is read in it. */
  trace: number | null;
  readings: Lane[];
  line: number;
  onInsert: (form: string) => void;
  onClose: () => void;
}

const CONDITION = /\$\{\d+:condition\}/;

/** Offers what this rig can do, in the notation's own words; what a step waits for is offered with numbers from the open trace. */
export function StepInserter({ rig, trace, readings, line, onInsert, onClose }: Props) {
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState<Form | null>(null);
  const { sensors, levels } = useLevels(rig, trace, readings);
  const insert = (form: string) => {
    onClose();
    onInsert(form);
  };
  const needs = chosen !== null && CONDITION.test(chosen.insert);
  const choices: Form[] = needs
    ? conditionsOf(sensors, readings, levels).map((condition) => ({ label: condition, detail: "", insert: chosen.insert.replace(CONDITION, () => condition) }))
    : formsOf(rig).steps;
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = choices.filter((item) => words.every((word) => `${item.label} ${item.detail}`.toLowerCase().includes(word))).slice(0, 60);
  const take = (form: Form | null) => {
    if (!form) return;
    setTyped("");
    if (!needs && CONDITION.test(form.insert) && sensors.length) setChosen(form);
    else insert(form.insert);
  };
  return (
    <Overlay onClose={onClose} high className="w-[min(520px,95vw)] p-4">
      <DialogTitle className="mb-2 text-lg font-bold">{needs ? `${chosen.label} What does it wait for?` : `A step below line ${line}`}</DialogTitle>
      <Combobox<Form | null> key={needs ? "condition" : "step"} value={null} onChange={take} immediate>
        <ComboboxInput
          autoFocus
          className="w-full rounded border border-rule bg-sheet px-2 py-1.5"
          aria-label={needs ? "What it waits for" : "What the step does"}
          placeholder={needs ? "a reading, a contact …" : "a part, or what it does: drive, wait, repeat …"}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") onClose(); // the list takes the key for itself otherwise
          }}
        />
        <ComboboxOptions static className="mt-2 max-h-[46vh] overflow-auto border border-rule bg-sheet">
          {found.map((item) => (
            <ComboboxOption key={item.label} value={item} className="flex cursor-pointer items-baseline gap-3 px-2.5 py-1 data-focus:bg-leaf-wash">
              <span className="num flex-1 text-[13px]">{item.label}</span>
              <span className="text-[13px] text-soft">{item.detail}</span>
            </ComboboxOption>
          ))}
          {!found.length && <li className="px-2.5 py-2 text-soft">{needs ? "Nothing here that could be waited for." : "This rig has no such step."}</li>}
        </ComboboxOptions>
      </Combobox>
      <div className="mt-3 flex items-center justify-end gap-2 text-[13px] text-soft">
        <span className="flex-1">Up and down choose, Enter writes it, then Tab goes through its slots.</span>
        {needs && <Button small onClick={() => insert(chosen.insert)}>Leave it open</Button>}
        <Button small onClick={onClose}>
          Close
        </Button>
      </div>
    </Overlay>
  );
}
