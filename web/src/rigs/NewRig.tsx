import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useNavigate } from "react-router";

import { answer } from "../api/client";
import { useChange, useRigWords } from "../api/hooks";
import { rigsCreate } from "../api/generated";

/** A new rig, from one of a few to start from. */
export function NewRig() {
  const words = useRigWords();
  const navigate = useNavigate();
  const make = useChange((source: Record<string, unknown>) => answer(rigsCreate({ body: { source } })), "rigs");
  return (
    <Menu>
      <MenuButton className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk">New rig …</MenuButton>
      <MenuItems anchor={{ to: "bottom end", gap: 4 }} className="z-40 w-[220px] rounded border border-rule bg-paper py-1 shadow-lg">
        {(words.data?.templates ?? []).map((template) => (
          <MenuItem key={template.name}>
            <button type="button" className="block w-full px-3 py-1 text-left text-[14px] data-focus:bg-leaf-wash" onClick={() => make.mutate(template.source, { onSuccess: (made) => void navigate(`/rigs/${made.id}`) })}>
              {template.name}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
