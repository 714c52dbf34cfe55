import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useNotation, useRigs, useTraces, useWordbook } from "../api/hooks";
import { wordbooksPartialUpdate, wordbooksTidyCreate, type Hint, type NotationWords, type Rig, type Wordbook } from "../api/generated";
import { Editor, type EditorApi } from "../bench/Editor";
import { Messages } from "../bench/Messages";
import { notation } from "../bench/notation";
import { Conflict } from "../saving/Conflict";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { LANGUAGE_WORDS } from "../model/languages";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { TryWord } from "./TryWord";
import { useOpened } from "../shelf/useShelf";

/** A wordbook: its text, what is wrong with it, and each word to be tried on the spot. */
export function WordbookPage() {
  const id = Number(useParams().id);
  useOpened("wordbooks", id);
  const book = useWordbook(id);
  const rigs = useRigs();
  const words = useNotation();
  const error = book.error ?? rigs.error ?? words.error;
  const rig = rigs.data?.find((item) => item.id === book.data?.rig);
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!book.data || !rig || !words.data) return <p className="p-6">Opening the wordbook …</p>;
  return <Open key={book.data.id} book={book.data} rig={rig} words={words.data} />;
}

// The words that only wordbooks have, for highlighting.
const OWN = ["wordbook", "reads", "python", "c", "module", "header", "word", "object", "whole", "numbers", "bits", "starts", "then", "again", "in", "takes", "as", "line", "perform", "when"];

function Open({ book, rig, words }: { book: Wordbook; rig: Rig; words: NotationWords }) {
  const client = useQueryClient();
  const editor = useRef<EditorApi | null>(null);
  const kept = (now: Wordbook) => {
    client.setQueryData(["wordbook", book.id], now);
    for (const key of ["wordbooks", "sheet"]) void client.invalidateQueries({ queryKey: [key] });
  };
  const { saving, left, save, settled, keepMine, takeTheirs } = useSaved<{ text: string }>(
    async (change, startedFrom) => {
      const now = await answer(wordbooksPartialUpdate({ path: { id: book.id }, body: { ...change, started_from: startedFrom["text"] } }));
      kept(now);
      return { text: now.version };
    },
    { text: book.version },
    `wordbook ${book.id}`,
  );
  const [text, setText] = useState(left.text ?? book.text ?? "");
  const tidy = useChange(async () => {
    await settled();
    return answer(wordbooksTidyCreate({ path: { id: book.id }, body: { rig: book.rig } }));
  });
  const change = (next: string) => {
    setText(next);
    save({ text: next });
  };
  const extensions = useMemo(() => notation({ ...words, words: [...words.words, ...OWN] }, rig, NO_FORMS), [words, rig]);
  const traces = (useTraces().data ?? []).filter((trace) => trace.rig === rig.id);
  const hints: Hint[] = book.hints;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-bold">{book.title}</h1>
        <span className="text-[13px] text-soft">
          the words of {LANGUAGE_WORDS[book.language]} programs for {rig.name}
        </span>
        <SavedWord saving={saving} />
        <span className="flex-1" />
        <span className="text-[13px] text-soft">{book.used_by.length ? `used by ${book.used_by.join(", ")}` : "No exercise names it yet."}</span>
        <Button
          small
          disabled={tidy.isPending || hints.some((hint) => hint.level === "error")}
          onClick={() =>
            tidy.mutate(undefined, {
              onSuccess: (now) => {
                kept(now);
                if (now.text !== undefined) change(now.text);
              },
            })
          }
        >
          Tidy the text
        </Button>
        <a className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" href={`data:text/plain;charset=utf-8,${encodeURIComponent(text)}`} download={`${fileName(book.title)}.geduld`}>
          Export
        </a>
        <Link className="text-[13px] text-leaf underline underline-offset-2" to="/">
          Shelf
        </Link>
      </div>
      <Conflict
        saving={saving}
        what="This wordbook"
        kept=""
        onMine={keepMine}
        onTheirs={() => {
          const theirs = takeTheirs();
          if (theirs.text !== undefined) setText(theirs.text);
        }}
      />
      <Trouble error={tidy.error ?? (saving.state === "refused" ? saving.error : null)} />
      <div className="flex min-h-0 flex-1">
        <section className="flex w-[48%] min-w-[380px] flex-col border-r border-rule bg-sheet" aria-label="Text of the wordbook">
          <div className="min-h-0 flex-1">
            <Editor label="Wordbook. Escape, then Tab leaves it." text={text} hints={hints} notation={extensions} onChange={change} onReady={(api) => (editor.current = api)} />
          </div>
          <div className="relative max-h-[34%] overflow-auto border-t border-rule">
            {hints.length ? (
              <Messages hints={hints} onLine={(line) => editor.current?.goTo(line)} onFix={(hint) => editor.current?.mend(hint)} />
            ) : (
              <p className="px-3 py-2 text-[13px] text-soft">No message: every word fits the rig.</p>
            )}
          </div>
        </section>
        <section className="relative min-w-0 flex-1 overflow-auto px-4 py-3" aria-label="Try the words">
          <TryWord book={book} text={text} traces={traces} rig={rig} onLine={(line) => editor.current?.goTo(line)} />
        </section>
      </div>
    </div>
  );
}

const NO_FORMS = { sections: [], steps: [], endings: [], values: [] };

function fileName(title: string): string {
  return title.toLowerCase().replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "") || "wordbook";
}
