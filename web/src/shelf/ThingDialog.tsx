import { DialogTitle } from "@headlessui/react";
import { type FormEvent, useState } from "react";

import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";
import { type Thing, useShelf, useTidy, WORDS } from "./useShelf";

interface Props {
  thing: Thing;
  archived: boolean;
  tags: string[];
  onTrash: (thing: Thing) => void;
  onClose: () => void;
}

/** What can be done with a thing where it lies: its tags, the archive, the trash. */
export function ThingDialog({ thing, archived, tags, onTrash, onClose }: Props) {
  const known = useShelf().data?.tags.map((item) => item.tag) ?? [];
  const [chosen, setChosen] = useState(tags);
  const [fresh, setFresh] = useState("");
  const tidy = useTidy();
  const all = [...new Set([...known, ...chosen])];
  const added = fresh.split(",").map((tag) => tag.trim()).filter(Boolean);
  const save = (event: FormEvent) => {
    event.preventDefault();
    tidy.mutate({ ...thing, tags: [...new Set([...chosen, ...added])] }, { onSuccess: onClose });
  };
  return (
    <Overlay onClose={onClose} className="w-[min(480px,95vw)] p-5">
      <DialogTitle className="text-lg font-bold">
        {thing.name} <span className="font-normal text-soft">{WORDS[thing.kind]}</span>
      </DialogTitle>
      <form className="mt-3 space-y-2" onSubmit={save} aria-label="Tags">
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
        <div className="flex items-end gap-2">
          <label className="min-w-0 flex-1">
            New tags, with commas between them
            <input className="mt-0.5 block w-full rounded border border-rule bg-sheet px-2 py-1" value={fresh} maxLength={200} placeholder="7b, spring" autoFocus onChange={(event) => setFresh(event.target.value)} />
          </label>
          <Button strong type="submit" disabled={tidy.isPending}>
            Set the tags
          </Button>
        </div>
      </form>
      <div className="mt-2">
        <Trouble error={tidy.error} />
      </div>
      <div className="mt-4 flex flex-wrap gap-2 border-t border-rule pt-4">
        <Button onClick={() => tidy.mutate({ ...thing, archived: !archived }, { onSuccess: onClose })}>{archived ? "Take out of the archive" : "Put into the archive"}</Button>
        <Button
          className="border-clay text-clay"
          onClick={() => {
            onClose();
            onTrash(thing);
          }}
        >
          Put into the trash
        </Button>
        <span className="flex-1" />
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </Overlay>
  );
}
