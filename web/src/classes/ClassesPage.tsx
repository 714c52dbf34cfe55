import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { answer } from "../api/client";
import { classesCreate, classesDestroy, classRosterCreate } from "../api/generated";
import { useChange } from "../api/hooks";
import { Button } from "../ui/Button";
import { DeleteButton } from "../ui/DeleteButton";
import { Trouble } from "../ui/Trouble";
import { UploadButton } from "../ui/UploadButton";
import { useClasses } from "./hooks";

/** The teacher's classes: from pasted names, or from the school's register. */
export function ClassesPage() {
  const classes = useClasses();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [names, setNames] = useState("");
  const make = useChange(() => answer(classesCreate({ body: { name: name.trim(), names } })), "classes");
  const roster = useChange((file: File) => answer(classRosterCreate({ body: { file } })), "classes");
  const remove = useChange((id: number) => answer<void>(classesDestroy({ path: { id } })), "classes", "assignments");
  return (
    <div className="mx-auto max-w-[900px] space-y-4 px-6 py-5">
      <h1 className="text-2xl font-bold">Classes</h1>
      <p className="text-soft">Who hands in by themselves. Each student has a code; no mail address is needed or kept.</p>
      <Trouble error={classes.error ?? make.error ?? roster.error ?? remove.error} />
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet">
        {classes.data?.map((item) => (
          <li key={item.id} className="flex items-center gap-3 px-4 py-2.5">
            <Link className="flex-1 font-bold text-leaf underline-offset-4 hover:underline" to={`/classes/${item.id}`}>
              {item.name}
            </Link>
            <span className="num text-[13px] text-soft">{item.size === 1 ? "1 student" : `${item.size} students`}</span>
            <DeleteButton what={`the class ${item.name}, with its codes and tries`} onDelete={() => remove.mutate(item.id)} />
          </li>
        ))}
        {classes.data?.length === 0 && <li className="px-4 py-3 text-soft">There is no class yet. Paste its names below, or bring the school&rsquo;s register.</li>}
      </ul>
      <section className="space-y-2 rounded border border-rule bg-sheet px-4 py-3" aria-label="A new class">
        <h2 className="text-lg font-bold">A new class</h2>
        <label className="block">
          Name
          <input className="mt-0.5 block w-64 rounded border border-rule bg-paper px-2 py-1" value={name} maxLength={100} onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="block">
          Its students, one a line
          <textarea className="mt-0.5 block h-40 w-full rounded border border-rule bg-paper px-2 py-1" value={names} maxLength={60_000} onChange={(event) => setNames(event.target.value)} />
        </label>
        <div className="flex gap-2">
          <Button strong disabled={!name.trim() || make.isPending} onClick={() => make.mutate(undefined, { onSuccess: (made) => void navigate(`/classes/${made.id}`) })}>
            Make the class
          </Button>
          <UploadButton large accept=".zip" onFiles={(files) => files[0] && roster.mutate(files[0])}>
            From a OneRoster zip
          </UploadButton>
        </div>
      </section>
    </div>
  );
}
