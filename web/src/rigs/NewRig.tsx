import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useNavigate } from "react-router";

import { answer } from "../api/client";
import { useChange, useRigWords } from "../api/hooks";
import { rigsCreate } from "../api/generated";

/** A new rig, from one of a few to start from. */
export function NewRig() {
  const navigate = useNavigate();
  const make = useChange((source: Record<string, unknown>) => answer(rigsCreate({ body: { source } })), "rigs", "shelf");
  return (
    <Menu>
      <MenuButton className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk">New rig …</MenuButton>
      <MenuItems anchor={{ to: "bottom end", gap: 4 }} className="z-40 w-[220px] rounded border border-rule bg-paper py-1 shadow-lg">
        <Templates onChoose={(source) => make.mutate(source, { onSuccess: (made) => void navigate(`/rigs/${made.id}`) })} />
      </MenuItems>
    </Menu>
  );
}

/** What there is to start from; it is asked for when it is to be seen. */
function Templates({ onChoose }: { onChoose: (source: Record<string, unknown>) => void }) {
  const words = useRigWords();
  return (words.data?.templates ?? []).map((template) => (
    <MenuItem key={template.name}>
      <button type="button" className="block w-full px-3 py-1 text-left text-[14px] data-focus:bg-leaf-wash" onClick={() => onChoose(template.source)}>
        {template.name}
      </button>
    </MenuItem>
  ));
}
