import { useState } from "react";
import { useParams } from "react-router";

import { answer } from "../api/client";
import { classesStudentsCreate, classesStudentsDestroy, classesStudentsPartialUpdate, type Student } from "../api/generated";
import { useChange } from "../api/hooks";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { useClasses, useStudents } from "./hooks";

/** A class: its students with their codes, as a list and as slips to print and cut. */
export function ClassPage() {
  const id = Number(useParams().id);
  const classes = useClasses();
  const students = useStudents(id);
  const [names, setNames] = useState("");
  const [slips, setSlips] = useState(false);
  const add = useChange(() => answer(classesStudentsCreate({ path: { id }, body: { names } })), "students", "classes");
  const anew = useChange((student: number) => answer(classesStudentsPartialUpdate({ path: { id, student }, body: { new_code: true } })), "students");
  const remove = useChange((student: number) => answer<void>(classesStudentsDestroy({ path: { id, student } })), "students", "classes", "standings");
  const found = classes.data?.find((item) => item.id === id);
  const error = classes.error ?? students.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!students.data || !classes.data) return <p className="p-6">Opening the class …</p>;
  if (!found) return <p className="p-6">There is no such class.</p>;
  return (
    <div className="mx-auto max-w-[900px] space-y-4 px-6 py-5 print:max-w-none print:p-0">
      <div className="flex items-center gap-3 print:hidden">
        <h1 className="flex-1 text-2xl font-bold">{found.name}</h1>
        <Button active={slips} aria-pressed={slips} onClick={() => setSlips(!slips)}>
          {slips ? "As a list" : "As slips to cut"}
        </Button>
        <Button onClick={() => print()}>Print the codes</Button>
      </div>
      <Trouble error={add.error ?? anew.error ?? remove.error} />
      {slips ? (
        <Slips name={found.name} students={students.data} />
      ) : (
        <table className="w-full border-collapse rounded bg-sheet">
          <caption className="sr-only">Students of {found.name} and their codes</caption>
          <thead>
            <tr className="border-b border-rule text-left text-[13px] text-soft">
              <th className="px-3 py-1 font-normal">Student</th>
              <th className="px-3 py-1 font-normal">Code</th>
              <th className="px-3 py-1 font-normal">In the register</th>
              <td className="print:hidden" />
            </tr>
          </thead>
          <tbody>
            {students.data.map((student) => (
              <tr key={student.id} className="border-b border-rule" data-student={student.name}>
                <td className="px-3 py-1">{student.name}</td>
                <td className="num px-3 py-1">{student.code}</td>
                <td className="num px-3 py-1 text-[13px] text-soft">{student.sourced_id}</td>
                <td className="flex justify-end gap-1.5 px-3 py-1 print:hidden">
                  <Button small title="The code before is worth nothing any more" onClick={() => anew.mutate(student.id)} aria-label={`New code for ${student.name}`}>
                    New code
                  </Button>
                  <DeleteButton what={`${student.name}, with the tries; hand-ins and marks stay`} onDelete={() => remove.mutate(student.id)} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <section className="space-y-1.5 print:hidden" aria-label="More students">
        <label className="block">
          More students, one a line
          <textarea className="mt-0.5 block h-24 w-full rounded border border-rule bg-sheet px-2 py-1" value={names} maxLength={60_000} onChange={(event) => setNames(event.target.value)} />
        </label>
        <Button disabled={!names.trim() || add.isPending} onClick={() => add.mutate(undefined, { onSuccess: () => setNames("") })}>
          Add them
        </Button>
      </section>
    </div>
  );
}

/** A slip for each student, to be cut out. */
function Slips({ name, students }: { name: string; students: Student[] }) {
  return (
    <ul className="grid grid-cols-2 gap-0 sm:grid-cols-3">
      {students.map((student) => (
        <li key={student.id} className="break-inside-avoid border border-dashed border-soft px-3 py-2.5">
          <p className="text-[13px] text-soft">{name}</p>
          <p className="font-bold">{student.name}</p>
          <p className="num text-[19px] tracking-wide">{student.code}</p>
          <p className="text-[12.5px] text-soft">{location.origin}/hand-in</p>
        </li>
      ))}
    </ul>
  );
}
