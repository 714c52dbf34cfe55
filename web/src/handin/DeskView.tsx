import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, useCallback, useEffect, useRef, useState } from "react";

import { answer, Problem } from "../api/client";
import { deskTriesCreate, type Desk, type Feedback, type Receipt } from "../api/generated";
import { LANGUAGE_WORDS } from "../model/languages";
import { show, showPoints } from "../model/numbers";
import { Brief } from "../ui/Brief";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { type Codes, headersOf } from "./codes";
import { type Draft, keepDraft, keptDraft, newKey } from "./draft";
import { Checks, Told } from "./Told";

const AGAIN_MS = 4_000;
const MOST_BYTES = 200_000;

/** A student's desk: what is asked, what was handed in, and the program that is being written. */
export function DeskView({ codes, desk }: { codes: Codes; desk: Desk }) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<Draft>(() => {
    const kept = keptDraft(codes);
    return kept.text || kept.sending ? kept : { ...kept, text: desk.text };
  });
  const [told, setTold] = useState<{ feedback: Feedback; text: string } | null>(desk.last ? { feedback: desk.last, text: desk.text } : null);
  const field = useRef<HTMLTextAreaElement>(null);
  const put = useCallback(
    (next: Draft) => {
      setDraft(next);
      keepDraft(codes, next);
    },
    [codes],
  );
  const send = useMutation({
    networkMode: "always", // a lost network is told here, not waited for in silence
    mutationFn: ({ text, file, sending }: Draft) => answer(deskTriesCreate({ headers: headersOf(codes), body: { text, file, key: sending ?? newKey() } })),
    onSuccess: (made, sent) => {
      setTold({ feedback: made.feedback, text: sent.text });
      setDraft((now) => {
        const next = { ...now, sending: null };
        keepDraft(codes, next);
        return next;
      });
      void client.invalidateQueries({ queryKey: ["desk"] });
    },
    onError: (problem, sent) => {
      // what the server has refused is not sent again by itself; what did not reach it is
      if (problem instanceof Problem && problem.status !== 0 && problem.status < 500) put({ ...sent, sending: null });
    },
  });
  const { mutate, isPending } = send;
  const waits = draft.sending !== null && !isPending;
  useEffect(() => {
    if (!waits) return;
    const go = () => mutate(draft);
    const timer = setTimeout(go, send.isIdle ? 0 : AGAIN_MS);
    addEventListener("online", go);
    return () => {
      clearTimeout(timer);
      removeEventListener("online", go);
    };
  }, [waits, draft, mutate, send.isIdle]);

  const handIn = () => {
    const next = { ...draft, sending: newKey() };
    put(next);
    mutate(next);
  };
  const choose = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    event.target.value = "";
    if (file && file.size <= MOST_BYTES) put({ text: await file.text(), file: file.name, sending: null });
  };
  const toLine = (line: number) => {
    const area = field.current;
    if (!area) return;
    const before = draft.text.split("\n").slice(0, line - 1).join("\n").length + (line > 1 ? 1 : 0);
    const end = draft.text.indexOf("\n", before);
    area.focus();
    area.setSelectionRange(before, end < 0 ? draft.text.length : end);
    area.scrollTop = Math.max(0, (line - 4) * 20);
  };
  const over = desk.left === 0;
  return (
    <>
      <h1 className="mt-4 text-2xl leading-tight font-bold">{desk.title}</h1>
      <p className="mt-1 mb-3" data-desk="">
        {desk.due ? (
          <>
            Due <b>{moment(desk.due)}</b>
            {desk.extended && ", your own extension"}.{" "}
          </>
        ) : (
          "No deadline. "
        )}
        {desk.closed ? "It is closed." : desk.left === null ? "As many tries as you like; " : desk.left === 0 ? "No try is left; " : `${desk.left} ${desk.left === 1 ? "try is" : "tries are"} left; `}
        {!desk.closed && (desk.counts === "best" ? "the best one counts." : "the last one counts.")}
      </p>
      {desk.returned && (
        <section className="mb-4 rounded border border-leaf bg-leaf-wash px-3 py-2" aria-label="Your marks">
          <h2 className="font-bold">
            Your marks: {show(desk.returned.points)} of {showPoints(desk.returned.of)}
          </h2>
          <Checks checks={desk.returned.checks} />
        </section>
      )}
      <Brief text={desk.brief} />
      <details className="mb-3 rounded border border-rule px-3 py-2">
        <summary className="cursor-pointer font-bold">What is checked</summary>
        <ul className="mt-1.5 list-disc pl-5">
          {desk.checks.map((check) => (
            <li key={check.title}>
              {check.title} <span className="num text-[14px] text-soft">{showPoints(check.points)}</span>
            </li>
          ))}
        </ul>
        {desk.private_checks > 0 && <p className="mt-1 text-[14px] text-soft">And {desk.private_checks} more that stay between your teacher and Geduld.</p>}
      </details>
      <label className="block">
        <span className="font-bold">Your program{draft.file && `: ${draft.file}`}</span>
        <textarea
          ref={field}
          className="num mt-1 h-[300px] w-full resize-y rounded border border-rule bg-sheet p-2.5 text-[14px] leading-5 whitespace-pre"
          value={draft.text}
          spellCheck={false}
          autoCapitalize="none"
          autoCorrect="off"
          maxLength={MOST_BYTES}
          onChange={(event) => put({ ...draft, text: event.target.value, sending: null })}
        />
      </label>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button strong disabled={over || !draft.text.trim() || isPending || draft.sending !== null} className="min-h-11 px-6 text-[17px]" onClick={handIn}>
          {isPending ? "Handing in …" : "Hand in"}
        </Button>
        <label className="inline-flex min-h-11 cursor-pointer items-center rounded border border-rule bg-sheet px-3 focus-within:outline-2 focus-within:outline-leaf hover:bg-sunk">
          Choose a file …
          <input type="file" className="sr-only" accept={desk.endings.join(",")} onChange={(event) => void choose(event)} />
        </label>
      </div>
      {waits && (
        <p role="status" className="mt-2 rounded border border-rule bg-ochre-wash px-3 py-2">
          The network is away. Your program is kept in this browser, and is handed in as soon as it is back.
        </p>
      )}
      {send.error && !waits && (
        <div className="mt-2">
          <Trouble error={send.error} />
        </div>
      )}
      {told && (
        <section className="mt-4" aria-label="What Geduld says" data-told="">
          <h2 className="mb-2 text-xl font-bold">What Geduld says</h2>
          <Told feedback={told.feedback} text={told.text} onLine={toLine} />
        </section>
      )}
      <Receipts tries={desk.tries} />
    </>
  );
}

/** What was handed in when, each with the fingerprint that proves it. */
function Receipts({ tries }: { tries: Receipt[] }) {
  if (!tries.length) return null;
  return (
    <section className="mt-5" aria-label="Receipts">
      <h2 className="text-xl font-bold">Receipts</h2>
      <p className="text-[14px] text-soft">A fingerprint proves what you handed in, and when. Write it down if you like.</p>
      <ul className="mt-1.5 divide-y divide-rule">
        {[...tries].reverse().map((receipt) => (
          <li key={receipt.number} className="flex flex-wrap gap-x-3 py-1.5" data-receipt={receipt.number}>
            <b>Try {receipt.number}</b>
            <span>{moment(receipt.received)}</span>
            <span className="num">{receipt.fingerprint}</span>
            {receipt.language !== "notation" && <span className="text-soft">{LANGUAGE_WORDS[receipt.language]}</span>}
            {receipt.late && <span className="font-bold text-clay">late</span>}
            {receipt.counts && <span className="font-bold text-leaf">counts</span>}
            {!receipt.looked_at && <span className="text-soft">is being looked at</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

function moment(text: string): string {
  return new Date(text).toLocaleString("en-GB", { weekday: "short", day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", second: "2-digit" });
}
