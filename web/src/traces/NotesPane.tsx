import { useState } from "react";

import { answer } from "../api/client";
import { useChange, useNotes } from "../api/hooks";
import { tracesNotesCreate, tracesNotesDestroy } from "../api/generated";
import { useAxis } from "../bench/store";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";

/** Notes on moments of a trace: written at the time cursor, and a way back to each. */
export function NotesPane({ trace }: { trace: number }) {
  const notes = useNotes(trace);
  const { cursor, move } = useAxis();
  const [text, setText] = useState("");
  const add = useChange(() => answer(tracesNotesCreate({ path: { id: trace }, body: { at: cursor, text: text.trim() } })), "notes");
  const remove = useChange((note: number) => answer<void>(tracesNotesDestroy({ path: { id: trace, note } })), "notes");
  return (
    <div className="space-y-2 text-[14px]">
      <form
        className="space-y-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) add.mutate(undefined, { onSuccess: () => setText("") });
        }}
      >
        <label className="block">
          At <span className="num">{show(cursor, "s", 3)}</span>
          <input className="mt-0.5 w-full rounded border border-rule bg-sheet px-2 py-1" value={text} maxLength={500} placeholder="What happened here?" onChange={(event) => setText(event.target.value)} />
        </label>
        <Button small type="submit" disabled={!text.trim()}>
          Write the note
        </Button>
      </form>
      <Trouble error={notes.error ?? add.error ?? remove.error} />
      <ul className="space-y-1">
        {(notes.data ?? []).map((note) => (
          <li key={note.id} className="flex items-baseline gap-2 border-b border-rule pb-1" data-note={note.id}>
            <button type="button" className="num shrink-0 text-leaf underline underline-offset-2" onClick={() => move(note.at)}>
              {show(note.at, "s", 2)}
            </button>
            <span className="min-w-0 flex-1">{note.text}</span>
            <button type="button" className="text-[13px] text-soft underline underline-offset-2" aria-label={`Delete the note at ${show(note.at, "s", 2)}`} onClick={() => remove.mutate(note.id)}>
              Delete
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
