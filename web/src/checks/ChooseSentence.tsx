import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { type ReactNode, useState } from "react";

import type { Form } from "../model/forms";

interface Props {
  sentences: Form[];
  onChoose: (sentence: Form) => void;
  onClose: () => void;
  /** What is shown beside the list for the sentence on which the cursor stands. */
  beside: (sentence: Form | null) => ReactNode;
}

/** Everything that a check can say here, to be searched and chosen from. */
export function ChooseSentence({ sentences, onChoose, onClose, beside }: Props) {
  const [typed, setTyped] = useState("");
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = sentences.filter((item) => words.every((word) => `${item.label} ${item.detail}`.toLowerCase().includes(word)));
  return (
    <Combobox<Form | null> value={null} onChange={(sentence) => sentence && onChoose(sentence)} immediate>
      {({ activeOption }) => (
        <>
          <div className="flex min-h-0 flex-col">
            <ComboboxInput
              autoFocus
              className="w-full rounded border border-rule bg-sheet px-2 py-1.5"
              aria-label="What the check asks"
              placeholder="always, never, after, lasts, mark …"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Escape") onClose(); // the list takes the key for itself otherwise
              }}
            />
            <ComboboxOptions static className="mt-2 min-h-0 flex-1 overflow-auto border border-rule bg-sheet">
              {found.map((item) => (
                <ComboboxOption key={item.label} value={item} className="cursor-pointer px-2.5 py-1 leading-snug data-focus:bg-leaf-wash">
                  <span className="num block text-[13px]">{item.label}</span>
                  <span className="block text-[13px] text-soft">{item.detail}</span>
                </ComboboxOption>
              ))}
              {!found.length && <li className="px-2.5 py-2 text-soft">No sentence has these words.</li>}
            </ComboboxOptions>
          </div>
          {beside(found.find((item) => item.label === activeOption?.label) ?? found[0] ?? null)}
        </>
      )}
    </Combobox>
  );
}
