import { DialogTitle } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer } from "../api/client";
import { useWordbooks } from "../api/hooks";
import { wordbooksTranslateCreate, type Translation, type Wordbook } from "../api/generated";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";

interface Behaviour {
  title: string;
  text: string;
}

/** The way to the behaviour in the class's language, where the rig has a wordbook. */
export function InClassWords({ rig, ...behaviour }: Behaviour & { rig: number }) {
  const [open, setOpen] = useState(false);
  const books = useWordbooks().data?.filter((book) => book.rig === rig && !book.broken) ?? [];
  if (books.length === 0) return null;
  return (
    <>
      <Button small onClick={() => setOpen(true)}>
        In class words
      </Button>
      <WriteOutDialog {...behaviour} open={open} books={books} onClose={() => setOpen(false)} />
    </>
  );
}

/** The behaviour as a program in the class's language, to hand out; what its words cannot say is listed. */
function WriteOutDialog({ open, books, title, text, onClose }: Behaviour & { open: boolean; books: Wordbook[]; onClose: () => void }) {
  const [chosen, setChosen] = useState<number | null>(null);
  const [copied, setCopied] = useState("");
  const book = books.find((item) => item.id === chosen) ?? books[0];
  const written = useQuery({
    queryKey: ["written out", book?.id, book?.version, open && text],
    queryFn: ({ signal }) => answer(wordbooksTranslateCreate({ path: { id: book?.id ?? 0 }, body: { text }, signal })),
    enabled: open && book !== undefined,
    retry: false,
  });
  if (!book) return null;
  const program = written.data?.text ?? "";
  const copy = async () => {
    await navigator.clipboard.writeText(program);
    setCopied(program);
  };
  return (
    <Overlay open={open} onClose={onClose} className="flex max-h-full w-[min(860px,95vw)] flex-col gap-3 p-5">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <DialogTitle className="min-w-0 flex-1 text-lg font-bold">{title}, in the class’s words</DialogTitle>
        <label className="flex items-center gap-2 text-[14px]">
          Wordbook
          <select className="rounded border border-rule bg-sheet px-1.5 py-1" value={book.id} onChange={(event) => setChosen(Number(event.target.value))}>
            {books.map((item) => (
              <option key={item.id} value={item.id}>
                {item.title}
              </option>
            ))}
          </select>
        </label>
      </div>
      <Trouble error={written.error} />
      {written.data && <LeftOut written={written.data} />}
      {program && (
        <pre className="num min-h-24 flex-1 overflow-auto rounded border border-rule bg-sheet p-3 text-[13px] leading-[1.45]" tabIndex={0} aria-label="The program">
          {program}
        </pre>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button disabled={!program} onClick={() => void copy()}>
          {copied && copied === program ? "Copied" : "Copy"}
        </Button>
        <Button strong disabled={!program} onClick={() => saveAs(fileName(title, book.language), program)}>
          Save as {book.language === "c" ? "a C file" : "a Python file"}
        </Button>
      </div>
    </Overlay>
  );
}

/** What the words cannot say, and what they read less exactly than the behaviour. */
function LeftOut({ written }: { written: Translation }) {
  const missing = written.left_out.filter((hint) => hint.code === "no-word");
  const rough = written.left_out.filter((hint) => hint.code !== "no-word");
  return (
    <div role="status" tabIndex={0} aria-label="What is left out" className="max-h-40 shrink-0 overflow-auto text-[14px]">
      <p className={missing.length ? "text-clay" : ""}>
        {missing.length === 0
          ? "The class’s words can say all of it."
          : `${missing.length === 1 ? "One step is" : `${missing.length} steps are`} left out, because no word says it. Each has a comment in its place.`}
      </p>
      <ul className="mt-1 space-y-0.5">
        {missing.map((hint) => (
          <li key={`${hint.line} ${hint.message}`}>
            <b className="whitespace-nowrap">Line {hint.line}</b> {hint.message}
          </li>
        ))}
        {rough.map((hint) => (
          <li key={hint.message} className="text-soft">
            {hint.message} {hint.remedy}
          </li>
        ))}
      </ul>
    </div>
  );
}

function fileName(title: string, language: Wordbook["language"]): string {
  const plain = title.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-+|-+$/g, "");
  return `${plain || "program"}.${language === "c" ? "c" : "py"}`;
}

function saveAs(name: string, text: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "text/plain;charset=utf-8" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
