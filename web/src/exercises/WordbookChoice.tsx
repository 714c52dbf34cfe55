import { Link } from "react-router";

import { answer } from "../api/client";
import { useChange, useWordbooks } from "../api/hooks";
import { exercisesPartialUpdate, type Exercise } from "../api/generated";
import { LANGUAGE_WORDS } from "../model/languages";
import { Trouble } from "../ui/Trouble";

/** Which wordbooks an exercise's hand-ins in Python and C are read with. */
export function WordbookChoice({ exercise }: { exercise: Exercise }) {
  const books = (useWordbooks().data ?? []).filter((book) => book.rig === exercise.rig && (!book.archived || exercise.wordbooks.includes(book.id)));
  const named = exercise.wordbooks ?? [];
  const change = useChange((wordbooks: number[]) => answer(exercisesPartialUpdate({ path: { id: exercise.id }, body: { wordbooks } })), "exercise", "exercises", "sheet", "wordbooks");
  return (
    <section aria-label="Wordbooks">
      <h2 className="font-bold">Wordbooks</h2>
      <p className="text-[13px] text-soft">What the words in Python and C hand-ins mean. Without one, hand-ins are in the notation.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {books.map((book) => (
          <li key={book.id} className="flex items-center gap-2 px-3 py-1 text-[14px]">
            <label className="flex min-w-0 flex-1 items-center gap-2">
              <input
                type="checkbox"
                className="accent-[var(--leaf)]"
                checked={named.includes(book.id)}
                disabled={change.isPending}
                onChange={(event) => change.mutate(event.target.checked ? [...named, book.id] : named.filter((id) => id !== book.id))}
              />
              <span className="truncate">{book.title}</span>
              <span className="text-[13px] whitespace-nowrap text-soft">{LANGUAGE_WORDS[book.language]}</span>
            </label>
            <Link className="text-[13px] text-leaf underline underline-offset-2" to={`/wordbooks/${book.id}`} aria-label={`Open the wordbook ${book.title}`}>
              Open
            </Link>
          </li>
        ))}
        {!books.length && <li className="px-3 py-1.5 text-[14px] text-soft">None for this rig yet: start one on the shelf.</li>}
      </ul>
      <Trouble error={change.error} />
    </section>
  );
}
