import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { useChange, useHandIns } from "../api/hooks";
import { handInsDestroy, handInsPartialUpdate, type Exercise, type HandIn } from "../api/generated";
import { fromField, showMoment, toField } from "../model/moments";
import { showDay } from "../model/numbers";
import { programsIn } from "../model/folders";
import { LANGUAGE_WORDS } from "../model/languages";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { UploadButton } from "../ui/UploadButton";

const STALE = ["hand-ins", "exercise", "exercises", "sheet"];

/** What came in, newest upload of each student, and when. */
export function HandIns({ exercise, onFolder }: { exercise: Exercise; onFolder: (files: File[]) => void }) {
  const all = useHandIns(exercise.id).data ?? [];
  // what needs an answer first
  const handIns = [...all.filter(isUnclear), ...all.filter((item) => !isUnclear(item))];
  const remove = useChange((item: HandIn) => answer(handInsDestroy({ path: { id: item.id } })), ...STALE);
  const late = (item: HandIn) => exercise.due !== null && item.received > exercise.due;
  return (
    <section aria-label="Hand-ins">
      <div className="flex items-center gap-2">
        <h2 className="flex-1 font-bold">Hand-ins</h2>
        <UploadButton folder onFiles={(files) => onFolder(programsIn(files))}>
          Upload a folder
        </UploadButton>
      </div>
      <p className="text-[13px] text-soft">
        A file or folder a student, or all of them in a .zip. Programs: .geduld, .py, .c, .cpp. Recorded runs: .csv, .vcd.
      </p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {handIns.map((item) => (
          <li key={item.id} className="flex flex-wrap items-center gap-1 py-0.5 pr-1 pl-3 text-[14px]">
            <Link className="min-w-0 flex-1 truncate text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${item.id}`}>
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
            {item.files.may_begin.length > 1 && <Begins item={item} />}
          </li>
        ))}
        {!handIns.length && <li className="px-3 py-1.5 text-[14px] text-soft">None yet: upload files above.</li>}
      </ul>
      <Trouble error={remove.error} />
    </section>
  );
}

/** Whether nobody knows with which of its files a program begins. */
function isUnclear(item: HandIn): boolean {
  return item.files.may_begin.length > 1 && !item.files.begins;
}

/** With which of its files a program begins; asked for where it cannot be told. */
function Begins({ item }: { item: HandIn }) {
  const change = useChange((begins: string) => answer(handInsPartialUpdate({ path: { id: item.id }, body: { begins } })), ...STALE);
  const { begins, may_begin: files } = item.files;
  return (
    <label className={`flex basis-full items-center gap-2 pb-1 text-[13px] ${begins ? "text-soft" : "font-bold text-clay"}`}>
      begins with
      <select
        className={`min-w-0 flex-1 rounded border bg-sheet px-1 py-1 ${begins ? "border-rule" : "border-clay"}`}
        aria-label={`The file with which the program of ${item.student} begins`}
        value={begins}
        onChange={(event) => change.mutate(event.target.value)}
      >
        {!begins && <option value="">choose …</option>}
        {files.map((file) => (
          <option key={file}>{file}</option>
        ))}
      </select>
    </label>
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
