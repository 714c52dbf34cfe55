import { DialogTitle } from "@headlessui/react";
import { useState } from "react";

import { answer } from "../api/client";
import { useChange, useTitles } from "../api/hooks";
import { benchKeepCreate, casesCreate, inputsCreate, type Rig } from "../api/generated";
import type { World } from "../api/world";
import { caseOf } from "../model/hands";
import type { Language } from "../model/languages";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";

interface Props {
  open: boolean;
  rig: Rig;
  world: World;
  text: string;
  language: Language;
  wordbooks: number[];
  onClose: () => void;
}

type What = "inputs" | "case" | "trace";

/** Keeps a test: what hands did, the whole world as a case of an exercise, or the run as a trace. */
export function KeepDialog({ open, rig, world, text, language, wordbooks, onClose }: Props) {
  const exercises = useTitles("exercises", rig.id).data ?? [];
  const [what, setWhat] = useState<What>("inputs");
  const [name, setName] = useState("");
  const [exercise, setExercise] = useState<number | null>(null);
  const chosen = exercises.find((item) => item.id === exercise) ?? exercises[0];
  const keep = useChange(
    async (): Promise<unknown> => {
      if (what === "trace") return answer<unknown>(benchKeepCreate({ body: { ...world, rig: rig.id, text, language, wordbooks, name } }));
      if (what === "inputs") return answer<unknown>(inputsCreate({ body: { rig: rig.id, name, doings: world.doings } }));
      return answer<unknown>(casesCreate({ body: { ...caseOf(world), exercise: chosen?.id ?? 0, name } }));
    },
    "inputs",
    "traces",
    "exercises",
    "exercise",
    "sheet",
  );
  const kinds: { value: What; label: string; says: string; off: boolean }[] = [
    { value: "inputs", label: "The inputs", says: "what hands turned, pressed and moved, to use it again", off: !world.doings.length },
    { value: "case", label: "A case", says: "this world with its inputs, for an exercise", off: !chosen },
    { value: "trace", label: "The run as a trace", says: "what the sensors read and the program commanded", off: false },
  ];
  const ready = name.trim() !== "" && !kinds.find((kind) => kind.value === what)?.off;
  return (
    <Overlay open={open} onClose={onClose} className="w-[min(460px,95vw)] p-5">
      <DialogTitle className="text-lg font-bold">Keep this test</DialogTitle>
      <form
        className="mt-2 space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) keep.mutate(undefined, { onSuccess: () => { setName(""); onClose(); } });
        }}
      >
        <fieldset>
          <legend className="sr-only">What to keep</legend>
          {kinds.map((kind) => (
            <label key={kind.value} className={`flex items-baseline gap-2 py-0.5 ${kind.off ? "text-soft" : ""}`}>
              <input type="radio" name="what" className="accent-[var(--leaf)]" disabled={kind.off} checked={what === kind.value} onChange={() => setWhat(kind.value)} />
              <span>
                <b>{kind.label}</b>: {kind.says}
              </span>
            </label>
          ))}
        </fieldset>
        {what === "case" && chosen && (
          <label className="block">
            Exercise
            <select className="mt-0.5 w-full rounded border border-rule bg-sheet px-2 py-1" value={chosen.id} onChange={(event) => setExercise(Number(event.target.value))}>
              {exercises.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="block">
          Name
          <input className="mt-0.5 w-full rounded border border-rule bg-sheet px-2 py-1" value={name} maxLength={100} onChange={(event) => setName(event.target.value)} />
        </label>
        <Trouble error={keep.error} />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Not now</Button>
          <Button strong type="submit" disabled={!ready || keep.isPending}>
            Keep it
          </Button>
        </div>
      </form>
    </Overlay>
  );
}
