import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { useChange, useHandIns } from "../api/hooks";
import { handInsDestroy, handInsPartialUpdate, type Exercise, type HandIn } from "../api/generated";
import { fromField, showMoment, toField } from "../model/moments";
import { showDay } from "../model/numbers";
import { LANGUAGE_WORDS } from "../model/languages";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";

const STALE = ["hand-ins", "exercise", "exercises", "sheet"];

/** What came in, newest upload of each student, and when. */
export function HandIns({ exercise }: { exercise: Exercise }) {
  const handIns = useHandIns(exercise.id).data ?? [];
  const remove = useChange((item: HandIn) => answer(handInsDestroy({ path: { id: item.id } })), ...STALE);
  const late = (item: HandIn) => exercise.due !== null && item.received > exercise.due;
  return (
    <section aria-label="Hand-ins">
      <h2 className="font-bold">Hand-ins</h2>
      <p className="text-[13px] text-soft">One file a student: .geduld, .py, .c or .cpp, or a recorded run as .csv; the file&apos;s name is the student.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {handIns.map((item) => (
          <li key={item.id} className="flex items-center gap-1 py-0.5 pr-1 pl-3 text-[14px]">
            <Link className="flex-1 truncate text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${item.id}`}>
              {item.student}
              {item.language !== "notation" && <span className="ml-1.5 text-[12px] text-soft">{LANGUAGE_WORDS[item.language]}</span>}
            </Link>
            <Popover className="relative">
              <PopoverButton className="rounded px-1.5 py-1 text-[13px] text-soft hover:bg-sunk" title={`Came in ${showMoment(item.received)}`} aria-label={`${late(item) ? "late " : ""}${showDay(item.received)}: when ${item.student}'s hand-in came`}>
                {late(item) && <b className="mr-1 text-ochre">late</b>}
                {showDay(item.received)}
              </PopoverButton>
              <PopoverPanel anchor={{ to: "bottom end", gap: 4 }} className="z-40 w-[270px] rounded-lg border border-rule bg-paper p-3.5 shadow-lg">
                {({ close }) => <Received item={item} onDone={close} />}
              </PopoverPanel>
            </Popover>
            <DeleteButton what={`the hand-in of ${item.student} with its marks`} onDelete={() => remove.mutate(item)} />
          </li>
        ))}
        {!handIns.length && <li className="px-3 py-1.5 text-[14px] text-soft">None yet: upload files above.</li>}
      </ul>
      <Trouble error={remove.error} />
    </section>
  );
}

/** When a hand-in came, to be put right where it came by another way than the upload. */
function Received({ item, onDone }: { item: HandIn; onDone: () => void }) {
  const [when, setWhen] = useState(toField(item.received));
  const change = useChange((received: string) => answer(handInsPartialUpdate({ path: { id: item.id }, body: { received } })), ...STALE);
  const moment = fromField(when);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (moment) change.mutate(moment, { onSuccess: onDone });
      }}
    >
      <label className="block text-[14px]">
        {item.student} handed in
        <input type="datetime-local" className="num mt-0.5 w-full rounded border border-rule bg-sheet px-1.5 py-1" value={when} onChange={(event) => setWhen(event.target.value)} />
      </label>
      <Trouble error={change.error} />
      <Button small type="submit" className="mt-2" disabled={!moment || change.isPending}>
        Put it right
      </Button>
    </form>
  );
}
