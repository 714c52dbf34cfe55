import { type ReactNode, useMemo } from "react";

import type { Doing, Floor, Rig, Run } from "../api/generated";
import type { World } from "../api/world";
import { isWorktop } from "../floors/plan";
import { Dials } from "./Dials";
import { FloorPane } from "./FloorPane";
import { WorktopPane } from "./WorktopPane";

interface Props {
  rig: Rig;
  floor: Floor;
  world: World;
  run: Run | null;
  /** The parts that the program names. */
  named: Set<string>;
  onDo: (...doings: Doing[]) => void;
  /** The hands beside it. */
  children: ReactNode;
}

/** The floor or the worktop on which the program runs, with what turns beside the wheels. */
export function PlacePane({ rig, floor, world, run, named, onDo, children }: Props) {
  const turning = useMemo(() => rig.parts.filter((part) => part.turns && named.has(part.name)).map((part) => part.name), [rig, named]);
  return (
    <div className="flex h-full flex-col">
      {world.faults.length > 0 && (
        <p className="border-b border-rule bg-ochre-wash px-3 py-1 text-[14px]" data-with-faults="">
          This robot has {world.faults.length === 1 ? "a fault" : "faults"}: {world.faults.join(", ")}.
        </p>
      )}
      <div className="flex min-h-0 flex-1">
        {isWorktop(floor.source) ? (
          <WorktopPane rig={rig} run={run} />
        ) : (
          <>
            <FloorPane rig={rig} floor={floor} run={run} doings={world.doings} onDo={onDo} />
            {turning.length > 0 && (
              <div className="w-[100px] shrink-0 overflow-y-auto border-l border-rule py-1.5" tabIndex={0} role="group" aria-label="What turns beside the wheels">
                <Dials rig={rig} run={run} only={turning} />
              </div>
            )}
          </>
        )}
        {children}
      </div>
    </div>
  );
}
