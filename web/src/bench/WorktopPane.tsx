import { memo } from "react";

import type { Rig, Run } from "../api/generated";
import { Dials } from "./Dials";
import { LiftMap } from "./LiftMap";

/** A place without a floor: what motors lift, from the side, and everything that turns as dials. */
export const WorktopPane = memo(function WorktopPane({ rig, run }: { rig: Rig; run: Run | null }) {
  const load = run?.loads[0];
  return (
    <section className="flex h-full min-w-0 flex-1" aria-label="Worktop">
      {run && load && <LiftMap rig={rig} run={run} load={load} />}
      <div tabIndex={0} role="group" aria-label="What turns" className={`overflow-y-auto py-1.5 ${load ? "w-[300px] shrink-0 border-l border-rule pl-1.5" : "flex-1 px-3"}`}>
        <Dials rig={rig} run={run} />
      </div>
    </section>
  );
});
