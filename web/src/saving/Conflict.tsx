import { DialogTitle } from "@headlessui/react";
import { useState } from "react";

import type { Saving } from "../model/saver";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";

interface Props {
  saving: Saving;
  /** What was changed, as a sentence begins: "This behaviour". */
  what: string;
  /** Where the text of this tab is kept meanwhile. */
  kept: string;
  onMine: () => void;
  onTheirs: () => void;
}

/** What is shown while a text was changed here and elsewhere: both, and a choice. Nothing when there is no such thing. */
export function Conflict({ saving, what, kept, onMine, onTheirs }: Props) {
  const [open, setOpen] = useState(false);
  if (saving.state !== "conflict") return null;
  const close = (act: () => void) => {
    setOpen(false);
    act();
  };
  const choices = (
    <>
      <Button small onClick={() => close(onTheirs)}>
        Take the other text
      </Button>
      <Button small strong onClick={() => close(onMine)}>
        Keep this text
      </Button>
    </>
  );
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 border-b border-ochre bg-ochre-wash px-3 py-2 text-[14px]">
      <p className="min-w-60 flex-1 leading-snug">
        <b>{what} was changed in another tab meanwhile.</b> Neither text replaces the other until you choose. {kept}
      </p>
      <Button small onClick={() => setOpen(true)}>
        Show both
      </Button>
      {choices}
      <Overlay open={open} onClose={() => setOpen(false)} className="flex h-[min(600px,90vh)] w-[min(1080px,95vw)] flex-col p-4">
        <DialogTitle className="mb-3 text-lg font-bold">Two texts from one</DialogTitle>
        <div className="grid min-h-0 flex-1 grid-cols-2 gap-3">
          <Text title="The text in this tab" text={saving.mine} other={saving.theirs} />
          <Text title="The other text, which is saved" text={saving.theirs} other={saving.mine} />
        </div>
        <div className="mt-3 flex justify-end gap-2">
          <Button small onClick={() => setOpen(false)}>
            Choose later
          </Button>
          {choices}
        </div>
      </Overlay>
    </div>
  );
}

/** A text; the lines that the other one does not have are marked, by a bar as well as by colour. */
function Text({ title, text, other }: { title: string; text: string; other: string }) {
  const known = new Set(other.split("\n"));
  return (
    <section className="flex min-h-0 flex-col" aria-label={title}>
      <h3 className="mb-1 text-[14px] font-bold">{title}</h3>
      <pre className="num min-h-0 flex-1 overflow-auto border border-rule bg-sheet py-2 text-[13px]" tabIndex={0}>
        {text.split("\n").map((line, index) => (
          <span key={index} className={`block px-3 ${known.has(line) ? "border-l-4 border-transparent" : "border-l-4 border-ochre bg-ochre-wash"}`}>
            {line || " "}
          </span>
        ))}
      </pre>
    </section>
  );
}
