import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";

import { save } from "./paper";

interface Picture {
  /** What is drawn, and what the file is called. */
  label: string;
  name: string;
  draw: () => string | null;
}

/** Pictures to take away, for a lesson or a report; and the address under which this view opens again. */
export function PictureMenu({ pictures, link, large = false }: { pictures: Picture[]; link?: () => string; large?: boolean }) {
  const items = [
    ...pictures.flatMap((picture) =>
      (["svg", "png"] as const).map((form) => ({
        label: `${picture.label} as ${form.toUpperCase()}`,
        act: () => {
          const drawn = picture.draw();
          if (drawn) void save(drawn, picture.name, form);
        },
      })),
    ),
    ...(link ? [{ label: "Copy the link to this view", act: () => void navigator.clipboard?.writeText(link()) }] : []),
  ];
  return (
    <Menu>
      <MenuButton className={`rounded border border-rule bg-sheet text-ink hover:bg-sunk data-open:bg-leaf-wash ${large ? "px-3 py-1.5" : "px-2 py-1 text-[13px]"}`}>Take away</MenuButton>
      <MenuItems anchor={{ to: "bottom end", gap: 4 }} modal={false} className="z-50 rounded border border-rule bg-paper py-1 text-[14px] shadow-lg focus:outline-none">
        {items.map(({ label, act }) => (
          <MenuItem key={label}>
            <button type="button" className="block w-full px-3 py-1 text-left data-focus:bg-leaf-wash" onClick={act}>
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
