import { useState } from "react";

import type { Field } from "../api/generated";
import { wordsOf } from "./Ports";
import { at, withAt } from "./source";

interface Props<Table extends Record<string, unknown>> {
  table: Table;
  fields: Field[];
  onChange: (table: Table, key: string) => void;
}

const INPUT = "rounded border border-rule bg-sheet px-1.5 py-0.5 text-[14px]";

/** Every field that can be said: its value or its default in grey, its unit, and why it matters. */
export function FieldForm<Table extends Record<string, unknown>>({ table, fields, onChange }: Props<Table>) {
  return (
    <div className="space-y-1.5">
      {fields.map((field) => {
        const value = at(table, field.key);
        const unit = unitHere(field, value, table);
        return (
          <div key={field.key} data-field={field.key}>
            <div className="flex items-center gap-2 text-[14px]">
              <span className={`min-w-0 flex-1 ${value === undefined ? "text-soft" : ""}`}>{field.name + unsaid(field, value, unit)}</span>
              <Value field={field} value={value} unit={unit} onChange={(next) => onChange(withAt(table, field.key, next), field.key)} />
            </div>
            {field.why && <p className="text-[12.5px] leading-tight text-soft">{field.why}</p>}
          </div>
        );
      })}
    </div>
  );
}

interface ValueProps {
  field: Field;
  value: unknown;
  /** What a bare number means. */
  unit: string;
  onChange: (value: unknown) => void;
}

function Value({ field, value, unit, onChange }: ValueProps) {
  switch (field.form) {
    case "yes":
      return <input type="checkbox" checked={value === true} aria-label={field.name} onChange={(event) => onChange(event.target.checked ? true : undefined)} />;
    case "choice":
      return (
        <select className={`${INPUT} ${value === undefined ? "text-soft" : ""}`} value={typeof value === "string" ? value : ""} aria-label={field.name} onChange={(event) => onChange(event.target.value || undefined)}>
          <option value="">{field.default}</option>
          {field.choices.filter((choice) => choice !== field.default).map((choice) => (
            <option key={choice} value={choice}>
              {choice}
            </option>
          ))}
        </select>
      );
    case "whole":
      return <Typed label={field.name} value={plain(value)} hint={field.default} onChange={(text) => onChange(text === "" ? undefined : /^\d+$/.test(text) ? Number(text) : text)} />;
    case "number":
      return <Typed label={field.name} value={plain(value)} hint={field.default} onChange={(text) => onChange(text === "" ? undefined : /^[0-9.]+$/.test(text) ? Number(text) : text)} />;
    case "words":
      return <Typed wide label={field.name} value={Array.isArray(value) ? value.join(", ") : ""} hint={field.default} onChange={(text) => onChange(text === "" ? undefined : wordsOf(text))} />;
    case "pair":
      return <Typed label={field.name} value={Array.isArray(value) ? value.join(" to ") : ""} hint={field.default} onChange={(text) => onChange(pairOf(text, Number))} />;
    case "quantities":
      return <Typed label={field.name} value={Array.isArray(value) ? value.join(" to ") : ""} hint={field.default} onChange={(text) => onChange(pairOf(text, (one) => withUnit(one, unit)))} />;
    case "text":
      return <Typed wide label={field.name} value={typeof value === "string" ? value : ""} hint="" onChange={(text) => onChange(text || undefined)} />;
    default:
      return <Typed label={field.name} value={plain(value)} hint={field.default} onChange={(text) => onChange(text === "" ? undefined : withUnit(text, unit))} />;
  }
}

function plain(value: unknown): string {
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}

/** The unit that is shown with a field: its value's, else its default's, else the one that the part is read in. */
function unitHere(field: Field, value: unknown, table: Record<string, unknown>): string {
  const values: unknown[] = Array.isArray(value) ? value : [value];
  const shown = [...values, field.default].map(unitOf);
  const found = shown.find((unit) => field.choices.includes(unit));
  return found ?? (typeof table["unit"] === "string" && field.choices.includes(table["unit"]) ? table["unit"] : (field.choices[0] ?? ""));
}

/** The unit of what is typed, where neither the value nor the default says it. */
function unsaid(field: Field, value: unknown, unit: string): string {
  const told = value === undefined ? field.default : String(Array.isArray(value) ? value.at(-1) : value);
  return (field.form.startsWith("quantit")) && unit && unitOf(told) !== unit ? `, in ${unit}` : "";
}

function unitOf(text: unknown): string {
  return /[^\d\s.,-]\S*$/.exec(typeof text === "string" ? text : "")?.[0] ?? "";
}

/** What was typed, with the unit that is usual here when none was. */
function withUnit(text: string, unit: string): string {
  const plain = text.trim().replace(",", ".");
  return /^-?[0-9.]+$/.test(plain) && unit ? `${plain} ${unit}` : plain;
}

function pairOf<One>(text: string, read: (one: string) => One): One[] | undefined {
  const ends = text.split(/\s+to\s+|;\s*|\s*\.\.\s*/).filter(Boolean);
  return ends.length ? ends.map(read) : undefined;
}

interface TypedProps {
  label: string;
  value: string;
  hint: string;
  wide?: boolean;
  narrow?: boolean;
  onChange: (text: string) => void;
}

/** A text, taken when the field is left or Enter is pressed. */
export function Typed({ label, value, hint, wide, narrow, onChange }: TypedProps) {
  const [text, setText] = useState(value);
  const [known, setKnown] = useState(value);
  if (known !== value) {
    setKnown(value);
    setText(value);
  }
  const keep = () => {
    if (text.trim() !== value) onChange(text.trim());
  };
  return (
    <input
      className={`num ${INPUT} ${wide ? "w-44" : narrow ? "w-[84px]" : "w-[124px] text-right"}`}
      value={text}
      placeholder={hint}
      aria-label={label}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
    />
  );
}
