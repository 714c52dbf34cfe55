import { useState } from "react";

import type { Arrived, ShelfKind } from "../api/generated";
import { Brought } from "../sharing/Brought";
import { AllAtOnce } from "../ui/AllAtOnce";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";
import { Behaviours } from "./boards/Behaviours";
import { Exercises } from "./boards/Exercises";
import { Floors } from "./boards/Floors";
import { InputsBoard } from "./boards/InputsBoard";
import type { BoardProps } from "./boards/props";
import { Rigs } from "./boards/Rigs";
import { Traces } from "./boards/Traces";
import { Wordbooks } from "./boards/Wordbooks";
import { narrows, useFind } from "./find";
import { FindBar } from "./FindBar";
import { Lately } from "./Lately";
import { UndoBar } from "./UndoBar";
import { type Thing, usePutBack, usePutInTrash, useShelf } from "./useShelf";

/** Home: everything the teacher has, how to find it again, and how to add to it. */
export function Shelf() {
  const shelf = useShelf();
  const { find, asked, change: setFind } = useFind();
  const [chosen, setChosen] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<unknown>(null);
  const [brought, setBrought] = useState<Arrived | null>(null);
  const [trashed, setTrashed] = useState<Thing | null>(null);
  const trash = usePutInTrash();
  const back = usePutBack();
  const rigs = shelf.data?.rigs ?? [];
  const known = rigs.filter((item) => !item.archived);
  const rig = known.find((item) => String(item.id) === chosen) ?? known[0] ?? null;
  const several = known.length > 1;
  const narrowed = narrows(asked);
  if (shelf.error) return <div className="p-6"><Trouble error={shelf.error} /></div>;

  const props = (kind: ShelfKind): BoardProps => {
    const counts = shelf.data?.kinds.find((item) => item.kind === kind);
    return {
      find: asked,
      narrowed,
      count: narrowed || !counts ? null : counts.all - counts.archived,
      rig,
      rigOf: (id) => (several ? rigs.find((item) => item.id === id)?.name : undefined),
      onTag: (tag) => setFind({ tag }),
      onTrash: (thing) => {
        setTrouble(null);
        trash.mutate(thing, { onSuccess: () => setTrashed(thing), onError: setTrouble });
      },
      onTrouble: setTrouble,
    };
  };
  const undo = () => {
    if (trashed) back.mutate(trashed, { onSuccess: () => setTrashed(null), onError: setTrouble });
  };
  return (
    <div className="mx-auto max-w-[1180px] px-6 py-5">
      <div className="mb-3 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2">
        <h1 className="text-2xl font-bold">Shelf</h1>
        <p className="flex-1 text-soft">Your robots, what they recorded, what they should do, and what the class hands in.</p>
        {several && rig && <Choice label="New things are for" value={String(rig.id)} options={known.map((item) => ({ value: String(item.id), label: item.name }))} onChange={setChosen} />}
      </div>
      <FindBar find={find} shelf={shelf.data} onFind={setFind} />
      {trouble != null && (
        <div className="mb-4">
          <Trouble error={trouble} />
        </div>
      )}
      {brought && (
        <div className="mb-4">
          <Brought came={brought} />
        </div>
      )}
      <AllAtOnce>
        {!narrowed && <Lately items={shelf.data?.lately ?? []} />}
        <div className="grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[1.25fr_1fr]">
          <div className="min-w-0 space-y-6">
            <Exercises {...props("exercises")} onBrought={setBrought} />
            <Behaviours {...props("behaviours")} />
            <Wordbooks {...props("wordbooks")} />
          </div>
          <div className="min-w-0 space-y-6">
            <Rigs {...props("rigs")} />
            <Floors {...props("floors")} />
            <Traces {...props("traces")} />
            <InputsBoard {...props("inputs")} />
          </div>
        </div>
      </AllAtOnce>
      {narrowed && <p className="mt-6 text-[14px] text-soft">Only what {asked.archived === "yes" ? "is in the archive" : "is looked for"} is shown{asked.tag && `, with the tag ${asked.tag}`}.</p>}
      {trashed && <UndoBar thing={trashed} onUndo={undo} onClose={() => setTrashed(null)} />}
    </div>
  );
}
