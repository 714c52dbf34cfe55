import { DialogTitle } from "@headlessui/react";
import { useEffect, useState } from "react";

import { answer } from "../api/client";
import { exercisesHandInsCreate, exercisesHandInsLookCreate, type LookedAt } from "../api/generated";
import { useChange } from "../api/hooks";
import { isZip, pathsOf } from "../model/folders";
import { LANGUAGE_WORDS } from "../model/languages";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";

export const HAND_INS_STALE = ["hand-ins", "exercise", "exercises", "sheet"];

interface Row extends LookedAt {
  keep: boolean;
}

/** Whose programs are in a zip or a folder: shown, and put right, before anything is kept. */
export function Collected({ exercise, files, onClose }: { exercise: number; files: File[]; onClose: () => void }) {
  return (
    <Overlay onClose={onClose} className="flex max-h-full w-[min(860px,96vw)] flex-col p-5">
      <Table exercise={exercise} files={files} onClose={onClose} />
    </Overlay>
  );
}

function Table({ exercise, files, onClose }: { exercise: number; files: File[]; onClose: () => void }) {
  const [rows, setRows] = useState<Row[] | null>(null);
  const [single, setSingle] = useState<string[]>([]);
  const sent = { files, paths: pathsOf(files), single };
  const { mutate: look, error: unclear, isPending } = useChange((asked: typeof sent) => answer(exercisesHandInsLookCreate({ path: { id: exercise }, body: asked })));
  const lookAs = (zips: string[]) => {
    setSingle(zips);
    look({ ...sent, single: zips }, { onSuccess: (found) => setRows(found.map((row) => ({ ...row, keep: row.can_be_kept }))) });
  };
  useEffect(() => lookAs([]), []); // eslint-disable-line react-hooks/exhaustive-deps -- once, for the files it was opened with
  const kept = (rows ?? []).filter((row) => row.keep);
  const keep = useChange(
    () => answer(exercisesHandInsCreate({ path: { id: exercise }, body: { ...sent, sources: kept.map((row) => row.came_as), students: kept.map((row) => row.student) } })),
    ...HAND_INS_STALE,
  );
  const trouble = troubleIn(kept);
  const set = (place: number, change: Partial<Row>) => setRows((rows ?? []).map((row, at) => (at === place ? { ...row, ...change } : row)));
  const zips = files.filter((file) => isZip(file) && !file.webkitRelativePath);
  return (
    <form
      className="flex min-h-0 flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (kept.length && !trouble) keep.mutate(undefined, { onSuccess: onClose });
      }}
    >
      <DialogTitle className="text-lg font-bold">Whose programs are these?</DialogTitle>
      <p className="text-[14px] text-soft">Each folder or file is taken for one student. Correct a name, or clear the box of what you do not want. Nothing is kept yet.</p>
      {zips.map((zip) => (
        <fieldset key={zip.name} className="flex flex-wrap items-center gap-x-4 text-[14px]">
          <legend className="float-left mr-3 max-w-[260px] truncate font-bold">{zip.name}</legend>
          {[false, true].map((one) => (
            <label key={String(one)} className="flex items-center gap-1.5">
              <input
                type="radio"
                name={zip.name}
                checked={single.includes(zip.name) === one}
                onChange={() => lookAs(one ? [...single, zip.name] : single.filter((name) => name !== zip.name))}
              />
              {one ? "one program of one student" : "find the students in it"}
            </label>
          ))}
        </fieldset>
      ))}
      <Trouble error={unclear} />
      {isPending && !rows && <p className="text-[14px] text-soft">Geduld looks into the files …</p>}
      {rows && (
        <div className="min-h-0 overflow-y-auto rounded border border-rule bg-sheet">
          <table className="w-full text-left text-[14px]" aria-label="What would be kept">
            <thead className="sticky top-0 bg-sunk text-[13px] text-soft">
              <tr>
                <th className="py-1 pl-3 font-normal">Keep</th>
                <th className="px-2 font-normal">Student</th>
                <th className="px-2 font-normal">Came as</th>
                <th className="px-2 pr-3 font-normal">What it is</th>
              </tr>
            </thead>
            <tbody className="divide-y divide-rule">
              {rows.map((row, place) => (
                <tr key={row.came_as} className={row.keep ? "" : "text-soft"}>
                  <td className="py-1 pl-3">
                    <input type="checkbox" aria-label={`Keep ${row.came_as}`} checked={row.keep} disabled={!row.can_be_kept} onChange={(event) => set(place, { keep: event.target.checked })} />
                  </td>
                  <td className="px-2 py-1">
                    <input
                      className={`w-full min-w-[140px] rounded border bg-paper px-1.5 py-0.5 ${row.keep && isDoubtful(row, kept) ? "border-clay" : "border-rule"}`}
                      aria-label={`Student of ${row.came_as}`}
                      value={row.student}
                      maxLength={100}
                      disabled={!row.keep}
                      onChange={(event) => set(place, { student: event.target.value })}
                    />
                  </td>
                  <td className="max-w-[260px] truncate px-2 text-[13px] text-soft" title={row.came_as}>
                    {zips.length === 1 ? row.came_as.slice(row.came_as.indexOf("/") + 1) : row.came_as}
                  </td>
                  <td className="px-2 pr-3 text-[13px]">{whatItIs(row)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <Trouble error={keep.error} />
      <div className="flex items-center gap-2">
        <span className="flex-1 text-[14px] text-clay" role="status">
          {trouble}
        </span>
        <Button type="button" onClick={onClose}>
          Cancel
        </Button>
        <Button type="submit" strong disabled={!kept.length || trouble !== "" || keep.isPending || isPending}>
          {keep.isPending ? "Keeping …" : `Keep ${kept.length} ${kept.length === 1 ? "hand-in" : "hand-ins"}`}
        </Button>
      </div>
    </form>
  );
}

/** What a teacher wants to know of a row: the language, how many files, what is wrong, what it replaces. */
function whatItIs(row: Row) {
  const many = row.files > 1 ? `, ${row.files} files` : "";
  return (
    <>
      {row.trouble ? <b className="text-clay">{row.trouble}</b> : row.recorded ? "recorded run" : `${LANGUAGE_WORDS[row.language as keyof typeof LANGUAGE_WORDS]}${many}`}
      {row.replaces && <span className="block text-ochre">replaces an older hand-in</span>}
    </>
  );
}

function isDoubtful(row: Row, kept: Row[]): boolean {
  return !row.student.trim() || kept.some((other) => other !== row && other.student.trim() === row.student.trim());
}

function troubleIn(kept: Row[]): string {
  const doubtful = kept.find((row) => isDoubtful(row, kept));
  if (!doubtful) return "";
  return doubtful.student.trim() ? `Two of these are of ${doubtful.student.trim()}. Keep one of them, or change a name.` : `Write the student of ${doubtful.came_as}.`;
}
