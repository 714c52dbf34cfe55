import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useState } from "react";

import { TagDialog } from "./TagDialog";
import { type Thing, useTidy, WORDS } from "./useShelf";

interface Props {
  thing: Thing;
  archived: boolean;
  tags: string[];
  onTrash: (thing: Thing) => void;
}

const ITEM = "block w-full px-3 py-1.5 text-left text-[14px] data-focus:bg-leaf-wash";

/** What can be done with a thing where it lies: tags, the archive, the trash. */
export function RowMenu({ thing, archived, tags, onTrash }: Props) {
  const [tagging, setTagging] = useState(false);
  const tidy = useTidy();
  return (
    <>
      <Menu>
        <MenuButton className="shrink-0 rounded px-1.5 py-0.5 text-soft hover:bg-sunk hover:text-ink" aria-label={`What to do with the ${WORDS[thing.kind]} ${thing.name}`} title="Tags, archive, trash">
          <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
            <path d="M2 4.5h12M2 8h12M2 11.5h7" stroke="currentColor" strokeWidth="1.5" fill="none" />
          </svg>
        </MenuButton>
        <MenuItems anchor={{ to: "bottom end", gap: 4 }} className="z-40 w-[210px] rounded border border-rule bg-paper py-1 shadow-lg">
          <MenuItem>
            <button type="button" className={ITEM} onClick={() => setTagging(true)}>
              Tags …
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" className={ITEM} onClick={() => tidy.mutate({ ...thing, archived: !archived })}>
              {archived ? "Take out of the archive" : "Put into the archive"}
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" className={`${ITEM} text-clay`} onClick={() => onTrash(thing)}>
              Put into the trash
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      {tagging && <TagDialog thing={thing} tags={tags} onClose={() => setTagging(false)} />}
    </>
  );
}
