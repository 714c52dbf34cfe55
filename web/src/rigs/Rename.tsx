import { useState } from "react";

import { answer } from "../api/client";
import { useChange } from "../api/hooks";
import { rigsRenameCreate, type Renaming } from "../api/generated";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { Typed } from "./FieldForm";

interface Props {
  rig: number;
  name: string;
  /** Waits until what was changed before is saved. */
  settled: () => Promise<void>;
  /** What was renamed last, where that was this part. */
  done: Renamed | null;
  onRenamed: (renamed: Renamed) => void;
}

/** A part that got another name, and in how many places. */
export interface Renamed {
  old: string;
  name: string;
  count: number;
}

const STALE = ["rigs", "behaviours", "behaviour", "wordbooks", "exercises", "exercise", "traces", "trace", "lanes", "inputs", "sheet"];

/** Another name for a part: what it would change is told first, then everything changes in one step, which can be taken back. */
export function Rename({ rig, name, settled, done, onRenamed }: Props) {
  const [wanted, setWanted] = useState(name);
  const [plan, setPlan] = useState<Renaming | null>(null);
  const ask = useChange(async (next: string) => {
    await settled();
    return answer(rigsRenameCreate({ path: { id: rig }, body: { old: name, new: next, plan: true } }));
  });
  const make = useChange((names: { old: string; new: string }) => answer(rigsRenameCreate({ path: { id: rig }, body: { ...names, plan: false } })), ...STALE);
  const rename = (old: string, next: string) =>
    make.mutate(
      { old, new: next },
      {
        onSuccess: (made) => {
          setPlan(null);
          onRenamed({ old, name: next, count: made.changes.length });
        },
      },
    );
  return (
    <div className="space-y-1.5">
      <div className="flex items-center gap-2 text-[14px]">
        <span className="flex-1">name</span>
        <Typed
          label="Name of the part"
          value={wanted}
          hint=""
          onChange={(text) => {
            setWanted(text);
            if (text && text !== name) ask.mutate(text, { onSuccess: setPlan });
            else setPlan(null);
          }}
        />
      </div>
      <Trouble error={ask.error ?? make.error} />
      {plan && (
        <div className="rounded border border-leaf bg-leaf-wash px-2.5 py-1.5 text-[13.5px]" role="group" aria-label="What the new name changes">
          <p>
            <b>
              {name} → {wanted}
            </b>{" "}
            changes:
          </p>
          <ul className="max-h-40 overflow-y-auto" tabIndex={0} aria-label="What changes">
            {plan.changes.map((change, index) => (
              <li key={index}>
                {change.what} {change.name}
                {change.places > 1 && `, ${change.places} lines`}
              </li>
            ))}
          </ul>
          {plan.staying.map((said) => (
            <p key={said} className="mt-1 border-l-4 border-ochre pl-2">
              {said}
            </p>
          ))}
          <span className="mt-1.5 flex gap-2">
            <Button small strong disabled={make.isPending} onClick={() => rename(name, wanted)}>
              Rename everywhere
            </Button>
            <Button small onClick={() => { setPlan(null); setWanted(name); }}>
              Leave it
            </Button>
          </span>
        </div>
      )}
      {done && (
        <p role="status" className="text-[13.5px]">
          {done.old} is called {name} now, in {done.count} places.{" "}
          <button type="button" className="text-leaf underline underline-offset-2" onClick={() => rename(name, done.old)}>
            Take it back
          </button>
        </p>
      )}
    </div>
  );
}
