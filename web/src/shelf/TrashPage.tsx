import { Link } from "react-router";

import { answer } from "../api/client";
import { trashDestroy, trashEmpty } from "../api/generated";
import { useChange } from "../api/hooks";
import { showMoment } from "../model/moments";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { type Thing, usePutBack, useTrash, VIEWS, WORDS } from "./useShelf";

const GONE = "It cannot be brought back then.";

/** What was put into the trash: back where it was, or gone for good. */
export function TrashPage() {
  const trash = useTrash();
  const back = usePutBack();
  const destroy = useChange(({ kind, id }: Thing) => answer<void>(trashDestroy({ path: { kind, id } })), "trash", "shelf");
  const empty = useChange(() => answer<void>(trashEmpty()), "trash", "shelf");
  const items = trash.data ?? [];
  const returned = back.data?.back ?? [];
  return (
    <div className="mx-auto max-w-[860px] px-6 py-5">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="flex-1 text-2xl font-bold">Trash</h1>
        {items.length > 0 && <DeleteButton what="all that is in the trash" why={`${items.length} ${items.length === 1 ? "thing is" : "things are"} gone for good then, exercises with their hand-ins and marks.`} word="Empty the trash" onDelete={() => empty.mutate(undefined)} />}
      </div>
      <p className="mb-3 text-soft">What lies here is nowhere else: no list has it, no student and no link comes to it. Once it has been here for 30 days, it goes for good.</p>
      <Trouble error={trash.error ?? back.error ?? destroy.error ?? empty.error} />
      {returned.length > 0 && (
        <p role="status" className="mb-3 rounded border border-leaf bg-leaf-wash px-3 py-2" data-back="">
          Back on the shelf:{" "}
          {returned.map((item, index) => (
            <span key={`${item.kind} ${item.id}`}>
              {index > 0 && ", "}
              {WORDS[item.kind]}{" "}
              {VIEWS[item.kind] ? (
                <Link className="text-leaf underline underline-offset-2" to={`${VIEWS[item.kind]}${item.id}`}>
                  {item.name}
                </Link>
              ) : (
                item.name
              )}
            </span>
          ))}
          .
        </p>
      )}
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet">
        {items.map((item) => (
          <li key={`${item.kind} ${item.id}`} className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-2" data-trashed={item.name}>
            <span className="w-24 shrink-0 text-[13px] text-soft">{WORDS[item.kind]}</span>
            <span className="min-w-0 flex-1 truncate font-bold">{item.name}</span>
            <span className="text-[13px] text-soft">{item.at && showMoment(item.at)}</span>
            <Button small disabled={back.isPending} aria-label={`Put the ${WORDS[item.kind]} ${item.name} back`} onClick={() => back.mutate(item)}>
              Put it back
            </Button>
            <DeleteButton what={`the ${WORDS[item.kind]} ${item.name} for good`} why={GONE} onDelete={() => destroy.mutate(item)} />
          </li>
        ))}
        {trash.data && !items.length && <li className="px-4 py-3 text-soft">The trash is empty.</li>}
      </ul>
    </div>
  );
}
