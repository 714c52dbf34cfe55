import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer } from "../api/client";
import { casesPartialUpdate, type Case, type Floor, type Rig, type Trace } from "../api/generated";
import type { World } from "../api/world";
import { FIELD, SetUp } from "../bench/SetUp";
import { useSaved } from "../saving/useSaved";
import { caseOf, worldOf } from "../model/hands";
import { Trouble } from "../ui/Trouble";

interface Props {
  item: Case;
  rig: Rig;
  traces: Trace[];
  floors: Floor[];
}

/** A case's name, and how its world is set up; saved as it is changed. */
export function CaseSetUp({ item, rig, traces, floors }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState(item.name);
  const [world, setWorld] = useState(() => worldOf(item));
  const { saving, save } = useSaved<ReturnType<typeof caseOf> & { name: string }>(async (part) => {
    await answer(casesPartialUpdate({ path: { id: item.id }, body: part }));
    for (const key of ["exercise", "exercises", "sheet", "proof"]) void client.invalidateQueries({ queryKey: [key] });
    return {};
  });
  const change = (nextName: string, nextWorld: World) => {
    setName(nextName);
    setWorld(nextWorld);
    if (nextName.trim()) save({ ...caseOf(nextWorld), name: nextName });
  };
  const floor = floors.find((other) => other.id === item.floor) ?? null;
  const trace = traces.find((other) => other.id === item.trace);
  const place = floor ? `On the floor ${floor.name}` : trace ? `On the trace ${trace.name}` : "In nothing but time";
  return (
    <Popover className="relative">
      <PopoverButton className="rounded px-1.5 py-1 text-[13px] text-leaf underline underline-offset-2 hover:bg-sunk" aria-label={`Set up the case ${item.name}`}>
        set up
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 4 }} className="z-40 w-[320px] space-y-2.5 rounded-lg border border-rule bg-paper p-4 text-[14px] shadow-lg">
        <p className="text-soft">{place}</p>
        <label className="flex items-center gap-2">
          <span className="w-20 shrink-0">Name</span>
          <input className={`${FIELD} min-w-0 flex-1`} value={name} maxLength={100} aria-invalid={!name.trim()} onChange={(event) => change(event.target.value, world)} />
        </label>
        <SetUp rig={rig} floor={floor} world={world} onWorld={(next) => change(name, next)} />
        <p className="flex justify-between text-[13px]">
          <Link className="text-leaf underline underline-offset-2" to={`/exercises/${item.exercise}/bench?case=${encodeURIComponent(item.name)}`}>
            The reference in it
          </Link>
          <span className="text-soft" role="status">{saving.state === "saved" ? "saved" : saving.state === "saving" ? "saving …" : ""}</span>
        </p>
        {(saving.state === "failed" || saving.state === "refused") && <Trouble error={saving.error} />}
      </PopoverPanel>
    </Popover>
  );
}
