import { useState } from "react";

import { answer } from "../api/client";
import { useChange } from "../api/hooks";
import { wordbooksTryCreate, type Parameter, type Rig, type Trace, type Tried, type Word, type Wordbook } from "../api/generated";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";

interface Props {
  book: Wordbook;
  text: string;
  traces: Trace[];
  rig: Rig;
  onLine: (line: number) => void;
}

/** Calls a word with values at an instant of a trace, and tells what it reads or commands there. */
export function TryWord({ book, text, traces, rig, onLine }: Props) {
  const [name, setName] = useState("");
  const [trace, setTrace] = useState<number | null>(null);
  const [at, setAt] = useState("1");
  const [values, setValues] = useState<Record<string, string>>({});
  const word = book.words.find((item) => item.name === name) ?? book.words[0];
  const recording = traces.find((item) => item.id === trace) ?? traces[0];
  const attempt = useChange((asked: { word: string; values: (string | number)[]; trace: number; at: number }) =>
    answer(wordbooksTryCreate({ path: { id: book.id }, body: { text, ...asked } })),
  );
  if (!word) return <p className="text-soft">No word can be tried yet: write one on the left.</p>;
  const lasts = recording ? recording.duration_us / 1e6 : 0;
  const given = word.parameters.map((parameter) => values[`${word.name} ${parameter.name}`] ?? firstValue(parameter, rig));
  const submit = () => {
    if (!recording) return;
    const told = word.parameters.map((parameter, index) => asValue(parameter, given[index] ?? ""));
    attempt.mutate({ word: word.name, values: told, trace: recording.id, at: Math.min(Math.max(0, Number(at) || 0), lasts) });
  };
  return (
    <div className="grid gap-4 xl:grid-cols-[minmax(200px,260px)_1fr]">
      <div>
        <h2 className="mb-1 font-bold">The words, {book.words.length}</h2>
        <ul className="divide-y divide-rule rounded border border-rule bg-sheet" aria-label="Words">
          {book.words.map((item) => (
            <li key={item.name}>
              <button
                type="button"
                aria-pressed={item.name === word.name}
                className={`flex w-full items-baseline gap-2 px-3 py-1 text-left text-[14px] hover:bg-sunk ${item.name === word.name ? "bg-leaf-wash" : ""}`}
                onClick={() => {
                  setName(item.name);
                  attempt.reset();
                  onLine(item.line);
                }}
              >
                <span className="num flex-1 truncate text-[13px]">{signature(item)}</span>
                <span className="text-[12px] whitespace-nowrap text-soft">{gives(item)}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
      <form
        className="space-y-2.5"
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <h2 className="font-bold">
          Try <span className="num">{word.name}</span>
        </h2>
        {word.parameters.map((parameter, index) => (
          <label key={parameter.name} className="flex items-center gap-2 text-[14px]">
            <span className="w-24 text-soft">{parameter.name}</span>
            {parameter.what !== "function" && (
              <input
                className="num w-36 rounded border border-rule bg-sheet px-2 py-1"
                value={given[index]}
                onChange={(event) => setValues({ ...values, [`${word.name} ${parameter.name}`]: event.target.value })}
              />
            )}
            <span className="text-[13px] text-soft">{meant(parameter)}</span>
          </label>
        ))}
        {recording ? (
          <div className="flex flex-wrap items-center gap-2 text-[14px]">
            <span className="w-24 text-soft">called at</span>
            <input className="num w-20 rounded border border-rule bg-sheet px-2 py-1" aria-label="Seconds into the trace" value={at} onChange={(event) => setAt(event.target.value)} />
            <span className="text-soft">s of</span>
            <select className="rounded border border-rule bg-sheet px-1.5 py-1" aria-label="Trace" value={recording.id} onChange={(event) => setTrace(Number(event.target.value))}>
              {traces.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.name}
                </option>
              ))}
            </select>
            <span className="text-[13px] text-soft">which lasts {show(lasts, "s", 1)}</span>
            <input type="range" className="w-full max-w-[420px] accent-[var(--leaf)]" aria-label="Instant in the trace" min={0} max={lasts} step={0.01} value={Number(at) || 0} onChange={(event) => setAt(event.target.value)} />
          </div>
        ) : (
          <p className="text-[14px] text-soft">Import a trace of this rig first: a word is tried on a recording.</p>
        )}
        <Button strong type="submit" disabled={!recording || attempt.isPending}>
          Call it
        </Button>
        <Trouble error={attempt.error} />
        {attempt.data && <Outcome tried={attempt.data} word={word} />}
      </form>
    </div>
  );
}

function Outcome({ tried, word }: { tried: Tried; word: Word }) {
  return (
    <div role="status" className="rounded border border-rule bg-sheet px-3 py-2 text-[14px]">
      {tried.problem && <p className="text-clay">{tried.problem}</p>}
      {word.gives && !tried.problem && (
        <p>
          The program gets <b className="num">{tried.value || "nothing: there was no reading"}</b>
          {word.unit && tried.value ? ` ${word.unit}` : ""}.
        </p>
      )}
      {tried.commands.map((command, index) => (
        <p key={index}>
          {command.part} is set to <b className="num">{command.value === null ? "an absent value" : show(command.value, command.unit)}</b>
          {command.after > 0 && ` after ${span(command.after)}`}.
        </p>
      ))}
      {tried.said.map((text, index) => (
        <p key={index}>It says “{text}”.</p>
      ))}
      {!tried.problem && !word.gives && !tried.commands.length && !tried.said.length && <p>It changes nothing here: the outputs have these values already.</p>}
      {!tried.problem && <p className="text-soft">{tried.lasted > 0 ? `The call takes ${span(tried.lasted)}.` : "The call takes no time."}</p>}
    </div>
  );
}

/** A time as people say it. */
function span(seconds: number): string {
  return seconds < 1 ? show(seconds * 1000, "ms") : show(seconds, "s", 2);
}

function signature(word: Word): string {
  return `${word.name}(${word.parameters.map((parameter) => parameter.name).join(", ")})`;
}

function gives(word: Word): string {
  if (word.gives === "number") return word.unit ? `gives ${word.unit}` : "gives a number";
  return { truth: "yes or no", text: "gives a text" }[word.gives] ?? "acts";
}

function meant(parameter: Parameter): string {
  if (parameter.unit) return `in ${parameter.unit}`;
  if (parameter.scale) return `from ${parameter.scale[0]} to ${parameter.scale[1]}`;
  return { part: "a part or its port", text: "a text", function: "a function: here one that says when it is performed" }[parameter.what] ?? "a number";
}

function firstValue(parameter: Parameter, rig: Rig): string {
  const known = parameter.default;
  if (typeof known === "number" || typeof known === "string") return String(known);
  if (parameter.what === "part") return rig.parts.find((part) => part.kind === "motor")?.port ?? "";
  return parameter.what === "text" ? "hello" : parameter.scale ? String(parameter.scale[1]) : parameter.unit === "%" ? "40" : "1";
}

function asValue(parameter: Parameter, text: string): string | number {
  const number = Number(text);
  const plain = text.trim() !== "" && Number.isFinite(number);
  return plain && parameter.what !== "text" ? number : text;
}
