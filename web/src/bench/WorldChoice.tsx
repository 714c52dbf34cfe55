import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";

import type { ReactNode } from "react";

import type { Floor, Rig, Trace } from "../api/generated";
import type { World } from "../api/world";
import { NO_WORLD } from "../model/hands";
import { FIELD, SetUp } from "./SetUp";
import { offered } from "../model/offered";

interface Props {
  rig: Rig;
  traces: Trace[];
  floors: Floor[];
  world: World;
  onWorld: (world: World) => void;
  /** Whether the program is played along with what comes live, and how that begins and ends; left out where it cannot be. */
  live?: boolean;
  onLive?: (live: boolean) => void;
  /** What else belongs to the set-up. */
  children?: ReactNode;
}

const BARE = "lasts 60";
const LIVE = "live";

/** Where the program runs: a trace or a floor, and how it starts there. */
export function WorldChoice({ rig, traces, floors, world, onWorld, live = false, onLive, children }: Props) {
  const floor = floors.find((item) => item.id === world.floor) ?? null;
  const value = live ? LIVE : floor ? `floor ${floor.id}` : world.trace !== null ? `trace ${world.trace}` : world.lasts !== null ? BARE : "";
  const choose = (next: string) => {
    if (next === LIVE) return onLive?.(true);
    if (live) onLive?.(false);
    const [kind, id] = next.split(" ");
    onWorld({ ...NO_WORLD, [kind ?? "trace"]: Number(id) });
  };
  return (
    <>
      <label className="flex items-center gap-1.5 text-[13px] text-soft">
        World
        <select className={`${FIELD} max-w-[9.5em]`} value={value} onChange={(event) => choose(event.target.value)}>
          {value === "" && <option value="">choose …</option>}
          <option value={BARE}>nothing but time</option>
          {onLive && <option value={LIVE}>what comes live</option>}
          <optgroup label="Floors">
            {offered(floors, world.floor).map((item) => (
              <option key={item.id} value={`floor ${item.id}`}>
                {item.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Traces">
            {offered(traces, world.trace).map((item) => (
              <option key={item.id} value={`trace ${item.id}`}>
                {item.name}
              </option>
            ))}
          </optgroup>
        </select>
      </label>
      {!live && <Popover className="relative">
        <PopoverButton className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk data-open:bg-leaf-wash">Set-up</PopoverButton>
        <PopoverPanel anchor={{ to: "bottom start", gap: 6 }} className="z-40 w-[300px] space-y-2.5 rounded-lg border border-rule bg-paper p-4 shadow-lg">
          <SetUp rig={rig} floor={floor} world={world} onWorld={onWorld} />
          {children}
        </PopoverPanel>
      </Popover>}
    </>
  );
}
