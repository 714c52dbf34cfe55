import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";

import { answer } from "../api/client";
import { useChange } from "../api/hooks";
import { rigsRevisionsCreate, rigsRevisionsList } from "../api/generated";
import { Trouble } from "../ui/Trouble";
import type { RigSource } from "./source";

/** What a rig was before, and the way back to each of it. */
export function Past({ rig, onBack }: { rig: number; onBack: (source: RigSource) => void }) {
  return (
    <Popover className="relative">
      <PopoverButton className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk">History</PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 4 }} className="z-40 max-h-[60vh] w-[360px] overflow-y-auto rounded border border-rule bg-paper px-3 py-2 shadow-lg">
        {({ close }) => <List rig={rig} onBack={(source) => { onBack(source); close(); }} />}
      </PopoverPanel>
    </Popover>
  );
}

function List({ rig, onBack }: { rig: number; onBack: (source: RigSource) => void }) {
  const revisions = useQuery({ queryKey: ["rig-revisions", rig], queryFn: () => answer(rigsRevisionsList({ path: { id: rig } })), staleTime: 0 });
  const back = useChange((revision: number) => answer(rigsRevisionsCreate({ path: { id: rig, revision } })), "rigs", "findings", "rig-revisions");
  if (!revisions.data) return <p>Looking …</p>;
  return (
    <>
      <Trouble error={revisions.error ?? back.error} />
      {!revisions.data.length && <p className="text-[14px] text-soft">Nothing was changed yet.</p>}
      <ul className="space-y-1 text-[14px]">
        {revisions.data.map((item) => (
          <li key={item.id} className="flex items-baseline gap-2 border-b border-rule pb-1">
            <span className="min-w-0 flex-1">
              before: {item.why || "changed by hand"}
              <span className="block text-[12.5px] text-soft">{new Date(item.saved).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" })}</span>
            </span>
            <button type="button" className="text-leaf underline underline-offset-2" onClick={() => back.mutate(item.id, { onSuccess: (now) => onBack(now.source as RigSource) })}>
              Back to it
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
