import { useId } from "react";

import { piecesOf } from "../model/checkDraft";
import type { Form } from "../model/forms";

interface Props {
  sentence: Form;
  title: string;
  points: string;
  fillings: string[];
  /** Conditions and values that can stand in a slot. */
  offered: string[];
  onTitle: (title: string) => void;
  onPoints: (points: string) => void;
  onFillings: (fillings: string[]) => void;
}

const FIELD = "rounded border border-rule bg-sheet px-1.5 py-1";

/** The chosen sentence with its slots as fields, its title and its points. */
export function FillSentence({ sentence, title, points, fillings, offered, onTitle, onPoints, onFillings }: Props) {
  const list = useId();
  const slots = fillings.length;
  return (
    <div className="space-y-3 overflow-auto">
      <fieldset className="rounded border border-rule bg-sunk px-3 py-2.5">
        <legend className="px-1 text-[13px] text-soft">The sentence: {sentence.detail}</legend>
        {piecesOf(sentence.insert).map((line, row) => (
          <p key={row} className="num flex flex-wrap items-baseline gap-y-1.5 py-0.5 text-[13px] whitespace-pre">
            {line.map((piece, index) => {
              const { slot } = piece;
              if (slot === null) return <span key={index}>{piece.text}</span>;
              const filled = fillings[slot] ?? "";
              return (
                <input
                  key={index}
                  autoFocus={slot === 0}
                  className={FIELD}
                  style={{ width: `calc(${Math.max(4, filled.length)}ch + 34px)`, maxWidth: "100%" }}
                  aria-label={`Slot ${slot + 1} of ${slots}: ${piece.text}`}
                  list={list}
                  value={filled}
                  onFocus={(event) => event.target.select()}
                  onChange={(event) => onFillings(fillings.map((other, at) => (at === slot ? event.target.value : other)))}
                />
              );
            })}
          </p>
        ))}
        <datalist id={list}>
          {offered.map((item) => (
            <option key={item} value={item} />
          ))}
        </datalist>
      </fieldset>
      <label className="block">
        <span className="block text-[13px] text-soft">Title, as the mark sheet shows it</span>
        <input autoFocus={slots === 0} className={`${FIELD} w-full`} value={title} maxLength={100} onChange={(event) => onTitle(event.target.value)} />
      </label>
      <label className="flex items-center gap-2">
        <span className="text-[13px] text-soft">worth</span>
        <input className={`${FIELD} w-16`} inputMode="decimal" value={points} onChange={(event) => onPoints(event.target.value)} />
        <span className="text-[13px] text-soft">points</span>
      </label>
    </div>
  );
}
