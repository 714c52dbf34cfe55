import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { memo } from "react";

import type { Part } from "../api/generated";

/** What can be asked of a lane, and done with it. */
export interface LaneActions {
  /** Why an output is as it is at the cursor. */
  onWhy?: (part: string) => void;
  /** Writes the value at the cursor into the program. */
  onUse?: (part: string) => void;
  /** The threshold that a reading suggests. */
  onLevels?: (part: string) => void;
  onMove: (part: string, by: -1 | 1) => void;
  /** By so many pixels. */
  onHeight: (part: string, by: number) => void;
  onHide: (part: string) => void;
}

export const LaneMenu = memo(function LaneMenu({ part, actions }: { part: Part; actions: LaneActions }) {
  const sensor = part.role === "sensor";
  const numeric = sensor && !part.contact && !part.says;
  const items: [string, (() => void) | undefined][] = [
    ["Why is it so at the cursor?", sensor ? undefined : actions.onWhy && (() => actions.onWhy?.(part.name))],
    ["Use this value in the program", numeric ? actions.onUse && (() => actions.onUse?.(part.name)) : undefined],
    ["Suggest a threshold", numeric ? actions.onLevels && (() => actions.onLevels?.(part.name)) : undefined],
    ["Move up", () => actions.onMove(part.name, -1)],
    ["Move down", () => actions.onMove(part.name, 1)],
    ["Taller", () => actions.onHeight(part.name, 24)],
    ["Shorter", () => actions.onHeight(part.name, -24)],
    ["Put away", () => actions.onHide(part.name)],
  ];
  return (
    <Menu>
      <MenuButton
        className="ml-auto h-[24px] w-[24px] shrink-0 rounded text-soft hover:bg-sunk hover:text-ink data-open:bg-leaf-wash"
        aria-label={`What to do with the lane ${part.name}`}
        onMouseDown={(event) => event.stopPropagation()}
      >
        <svg width="12" height="12" viewBox="0 0 12 12" className="mx-auto" aria-hidden="true">
          <path d="M2 4.2 6 8.2l4-4" stroke="currentColor" strokeWidth="1.7" fill="none" />
        </svg>
      </MenuButton>
      <MenuItems anchor={{ to: "bottom start", gap: 2 }} className="z-50 rounded border border-rule bg-paper py-1 text-[14px] shadow-lg focus:outline-none" modal={false} onMouseDown={(event) => event.stopPropagation()}>
        {items.flatMap(([word, act]) =>
          act
            ? [
                <MenuItem key={word}>
                  <button type="button" className="block w-full px-3 py-1 text-left data-focus:bg-leaf-wash" onClick={act}>
                    {word}
                  </button>
                </MenuItem>,
              ]
            : [],
        )}
      </MenuItems>
    </Menu>
  );
});
