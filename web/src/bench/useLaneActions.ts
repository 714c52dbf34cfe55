import { type RefObject, useEffect, useMemo, useRef } from "react";

import type { Part } from "../api/generated";
import { show } from "../model/numbers";
import { valueAt } from "../model/signals";
import type { EditorApi } from "./Editor";
import type { LaneActions } from "./LaneMenu";
import { useAxis } from "./store";
import { type Arrangement, movedBy } from "./useArrangement";
import type { VisibleLanes } from "./visible";

interface Given {
  lanes: VisibleLanes;
  arrangement: Arrangement;
  arrange: (part: Partial<Arrangement>) => void;
  box: RefObject<HTMLElement | null>;
  editor: RefObject<EditorApi | null>;
  onWhy: (part: string) => void;
  onLevels?: (part: Part) => void;
}

const LEAST = 34;
const MOST = 400;

/** What can be done with a lane. It stays the same while lanes are drawn anew, so that they need not be for it. */
export function useLaneActions(given: Given): LaneActions {
  const latest = useRef(given);
  useEffect(() => {
    latest.current = given;
  });
  const suggests = given.onLevels !== undefined;
  return useMemo(() => {
    const found = (name: string) => latest.current.lanes.readings.find((item) => item.part.name === name);
    return {
      onWhy: (part) => latest.current.onWhy(part),
      onUse: (part) => {
        const lane = found(part);
        const value = lane && valueAt(lane.lane, useAxis.getState().cursor);
        if (lane && value !== null && value !== undefined) latest.current.editor.current?.insert(show(value, lane.part.unit, 1));
      },
      onLevels: suggests
        ? (part) => {
            const lane = found(part);
            if (lane) latest.current.onLevels?.(lane.part);
          }
        : undefined,
      onMove: (part, by) => {
        const { lanes, arrange } = latest.current;
        const above = lanes.readings.map((item) => item.part.name);
        const below = lanes.outputs.map((item) => item.part.name);
        arrange({ order: above.includes(part) ? [...movedBy(above, part, by), ...below] : [...above, ...movedBy(below, part, by)] });
      },
      onHeight: (part, by) => {
        const { arrangement, arrange, box } = latest.current;
        const lane = box.current?.querySelector(`[data-lane="${CSS.escape(part)}"]`);
        const high = arrangement.heights[part] ?? Math.round(lane?.getBoundingClientRect().height ?? 60);
        arrange({ heights: { ...arrangement.heights, [part]: Math.min(MOST, Math.max(LEAST, high + by)) } });
      },
      onHide: (part) => latest.current.arrange({ hidden: [...new Set([...latest.current.arrangement.hidden, part])] }),
    };
  }, [suggests]);
}
