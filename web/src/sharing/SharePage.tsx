import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { exercisesCopyCreate, exercisesLookLinksCreate, exercisesLookLinksDestroy, exercisesLookLinksList, type Exercise } from "../api/generated";
import { useChange, useExercise } from "../api/hooks";
import { showMoment } from "../model/moments";
import { showDay } from "../model/numbers";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { Brought } from "./Brought";
import { download } from "./download";

const BOX = "rounded border border-rule bg-sheet px-4 py-3";

/** How an exercise goes to others: as a zip, as a copy, or by a link that only looks. */
export function SharePage() {
  const id = Number(useParams().id);
  const exercise = useExercise(id);
  if (exercise.error) return <div className="p-6"><Trouble error={exercise.error} /></div>;
  if (!exercise.data) return <p className="p-6">Opening …</p>;
  return (
    <div className="mx-auto max-w-[860px] space-y-5 px-6 py-5">
      <h1 className="text-2xl font-bold">
        Share{" "}
        <Link className="text-leaf underline underline-offset-4" to={`/exercises/${id}`}>
          {exercise.data.title}
        </Link>
      </h1>
      <TakeAway exercise={exercise.data} />
      <Looking id={id} />
      <Copy id={id} />
    </div>
  );
}

function TakeAway({ exercise }: { exercise: Exercise }) {
  const [handIns, setHandIns] = useState(false);
  const take = useChange(() => download(`/api/exercises/${exercise.id}/parcel?hand_ins=${handIns}`));
  const count = exercise.hand_in_count;
  return (
    <section className={BOX} aria-label="As one file">
      <h2 className="text-lg font-bold">As one file</h2>
      <p className="mt-1">
        A zip of plain files with all that the exercise needs: its rig, recordings, floors, libraries and wordbooks, the reference and the checks. A colleague brings it in with <i>Bring an exercise</i> on the shelf; <code className="num">geduld grade</code> takes it as it is.
      </p>
      {count > 0 && (
        <label className="mt-2 flex items-start gap-2">
          <input type="checkbox" className="mt-1.5" checked={handIns} onChange={(event) => setHandIns(event.target.checked)} />
          <span>
            With the {count === 1 ? "hand-in of 1 student" : `hand-ins of ${count} students`}: their names and their programs. Marks stay here.
          </span>
        </label>
      )}
      <Button strong className="mt-3" disabled={take.isPending} onClick={() => take.mutate(undefined)}>
        {take.isPending ? "Packing …" : "Save the zip"}
      </Button>
      {take.error && <div className="mt-2"><Trouble error={take.error} /></div>}
    </section>
  );
}

function Looking({ id }: { id: number }) {
  const path = { id };
  const links = useQuery({ queryKey: ["look-links", id], queryFn: ({ signal }) => answer(exercisesLookLinksList({ path, signal })) });
  const [note, setNote] = useState("");
  const [marks, setMarks] = useState(false);
  const make = useChange(() => answer(exercisesLookLinksCreate({ path, body: { note: note.trim(), marks } })), "look-links");
  const takeBack = useChange((link: number) => answer<void>(exercisesLookLinksDestroy({ path: { id, link } })), "look-links");
  const send = (event: FormEvent) => {
    event.preventDefault();
    make.mutate(undefined, { onSuccess: () => setNote("") });
  };
  return (
    <section className={BOX} aria-label="By a link that looks">
      <h2 className="text-lg font-bold">By a link that looks</h2>
      <p className="mt-1">Whoever has the link sees the brief, the reference, the checks, and how the reference does in each case. They change nothing, and need no account; who has one can take a copy.</p>
      <form className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2" onSubmit={send}>
        <label>
          For whom
          <input className="mt-0.5 block w-56 rounded border border-rule bg-paper px-2 py-1" value={note} maxLength={100} onChange={(event) => setNote(event.target.value)} />
        </label>
        <label className="flex items-center gap-2 pb-1">
          <input type="checkbox" checked={marks} onChange={(event) => setMarks(event.target.checked)} />
          with the mark sheet: names and marks
        </label>
        <Button type="submit" disabled={make.isPending}>
          Make a link
        </Button>
      </form>
      {make.data && (
        <p role="status" className="mt-2 rounded border border-leaf bg-leaf-wash px-3 py-2">
          Send this link{make.data.note && ` to ${make.data.note}`}. It is shown this once:
          <br />
          <code className="num text-[14px] break-all" data-look="">
            {location.origin + make.data.path}
          </code>
        </p>
      )}
      <Trouble error={links.error ?? make.error ?? takeBack.error} />
      {!!links.data?.length && (
        <ul className="mt-3 divide-y divide-rule border-t border-rule">
          {links.data.map((link) => (
            <li key={link.id} className="flex flex-wrap items-center gap-x-3 py-1.5" data-link={link.note}>
              <span className="flex-1 font-bold">{link.note || "for anybody"}</span>
              {link.marks && <span className="rounded border border-rule bg-sunk px-1.5 text-[12px]">with the mark sheet</span>}
              <span className="text-[13px] text-soft">
                made {showDay(link.made)}, {link.seen ? `last used ${showMoment(link.seen)}` : "not used yet"}
              </span>
              <DeleteButton what={`the link ${link.note || "for anybody"}`} why="From then on it opens nothing." onDelete={() => takeBack.mutate(link.id)} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Copy({ id }: { id: number }) {
  const copy = useChange(() => answer(exercisesCopyCreate({ path: { id } })), "exercises");
  return (
    <section className={BOX} aria-label="A copy for yourself">
      <h2 className="text-lg font-bold">A copy for yourself</h2>
      <p className="mt-1">Another exercise beside this one, without hand-ins, to be changed without touching this one. It uses the same rig, recordings and floors.</p>
      <Button className="mt-2" disabled={copy.isPending} onClick={() => copy.mutate(undefined)}>
        Copy it
      </Button>
      {copy.data && <div className="mt-2"><Brought came={copy.data} /></div>}
      {copy.error && <div className="mt-2"><Trouble error={copy.error} /></div>}
    </section>
  );
}
