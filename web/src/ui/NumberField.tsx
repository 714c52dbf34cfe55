import { useState } from "react";

import { show } from "../model/numbers";

interface Props {
  label: string;
  unit: string;
  value: number;
  /** Shown as the word before the field; without it the label is only spoken. */
  word?: string;
  least?: number;
  onChange: (value: number) => void;
}

/** A number with its unit: taken when it is one, kept as typed until then. */
export function NumberField({ label, unit, value, word, least = -Infinity, onChange }: Props) {
  const [text, setText] = useState(show(value, "", 3));
  const [known, setKnown] = useState(value);
  const [sent, setSent] = useState<number[]>([]);
  if (known !== value) {
    setKnown(value);
    // What was typed a moment ago comes back while more is typed: the field is ahead of it.
    if (sent.includes(value)) setSent(sent.slice(sent.indexOf(value) + 1));
    else if (Number(text) !== value) setText(show(value, "", 3));
  }
  const read = (typed: string) => (typed.trim() === "" ? NaN : Number(typed.replace(",", ".")));
  const isGood = (number: number) => Number.isFinite(number) && number >= least;
  const number = read(text);
  const good = isGood(number);
  const take = (typed: string) => {
    setText(typed);
    const rounded = Math.round(read(typed) * 1000) / 1000;
    if (!isGood(rounded) || rounded === value) return;
    setSent([...sent.slice(-20), rounded]);
    onChange(rounded);
  };
  return (
    <label className="flex items-center gap-1.5">
      {word && <span className="flex-1">{word}</span>}
      <input
        className={`num w-[74px] rounded border bg-sheet px-1.5 py-0.5 text-right ${good ? "border-rule" : "border-clay"}`}
        inputMode="decimal"
        value={text}
        aria-label={`${label} in ${unit}`}
        aria-invalid={!good}
        onChange={(event) => take(event.target.value)}
        onBlur={() => !good && setText(show(value, "", 3))}
        onKeyDown={(event) => {
          const by = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
          if (!by || !good) return;
          event.preventDefault();
          take(show(number + by * (event.shiftKey ? 10 : 1), "", 3));
        }}
      />
      <span className="w-7 text-soft">{unit}</span>
    </label>
  );
}
