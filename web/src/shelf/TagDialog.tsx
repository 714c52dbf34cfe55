import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { type FormEvent, useState } from "react";

import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { type Thing, useShelf, useTidy, WORDS } from "./useShelf";

/** The tags of one thing: those that are in use to be pressed, and new ones. */
export function TagDialog({ thing, tags, onClose }: { thing: Thing; tags: string[]; onClose: () => void }) {
  const known = useShelf().data?.tags.map((item) => item.tag) ?? [];
  const [chosen, setChosen] = useState(tags);
  const [fresh, setFresh] = useState("");
  const tidy = useTidy();
  const all = [...new Set([...known, ...chosen])];
  const added = () => fresh.split(",").map((tag) => tag.trim()).filter(Boolean);
  const save = (event: FormEvent) => {
    event.preventDefault();
    tidy.mutate({ ...thing, tags: [...new Set([...chosen, ...added()])] }, { onSuccess: onClose });
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
      <div className="fixed inset-0 flex items-center justify-center p-6">
        <DialogPanel className="w-[min(460px,95vw)] rounded-lg border border-rule bg-paper p-5">
          <form className="space-y-3" onSubmit={save}>
            <DialogTitle className="text-lg font-bold">
              Tags of the {WORDS[thing.kind]} {thing.name}
            </DialogTitle>
            {all.length > 0 && (
              <div className="flex flex-wrap gap-1.5">
                {all.map((tag) => {
                  const on = chosen.includes(tag);
                  return (
                    <Button key={tag} small active={on} aria-pressed={on} onClick={() => setChosen(on ? chosen.filter((item) => item !== tag) : [...chosen, tag])}>
                      {tag}
                    </Button>
                  );
                })}
              </div>
            )}
            <label className="block">
              New ones, with commas between them
              <input className="mt-0.5 block w-full rounded border border-rule bg-sheet px-2 py-1" value={fresh} maxLength={200} placeholder="7b, spring" autoFocus onChange={(event) => setFresh(event.target.value)} />
            </label>
            <Trouble error={tidy.error} />
            <div className="flex justify-end gap-2">
              <Button onClick={onClose}>Leave it</Button>
              <Button strong type="submit" disabled={tidy.isPending}>
                Set the tags
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
