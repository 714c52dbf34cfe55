import { useState } from "react";

import { Button } from "../ui/Button";
import type { RigSource } from "./source";

/** The whole description as text, for those who like it so. */
export function AsText({ source, onChange }: { source: RigSource; onChange: (source: RigSource) => void }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [trouble, setTrouble] = useState("");
  if (!open)
    return (
      <Button small onClick={() => { setText(JSON.stringify(source, null, 2)); setTrouble(""); setOpen(true); }}>
        All of it as text …
      </Button>
    );
  const take = () => {
    try {
      const read = JSON.parse(text) as Partial<RigSource> | null;
      const parts: unknown = read?.parts;
      if (!parts || typeof parts !== "object" || Array.isArray(parts)) throw new Error('it has no "parts".');
      onChange(read as RigSource);
      setOpen(false);
    } catch (reason) {
      setTrouble(reason instanceof Error ? reason.message : "This is not JSON.");
    }
  };
  return (
    <div className="space-y-1.5">
      <textarea className="num h-72 w-full rounded border border-rule bg-paper p-2 text-[12.5px]" value={text} spellCheck={false} aria-label="The rig as JSON" onChange={(event) => setText(event.target.value)} />
      {trouble && <p role="alert" className="text-[13.5px] text-clay">This cannot be taken: {trouble}</p>}
      <span className="flex gap-2">
        <Button small strong onClick={take}>
          Take it
        </Button>
        <Button small onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </span>
    </div>
  );
}
