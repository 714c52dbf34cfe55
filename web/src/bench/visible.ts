import { useMemo } from "react";

import type { Lane, Part, Rig, Run } from "../api/generated";
import { isLively } from "../model/signals";
import { type Arrangement, inOrder, PLAIN } from "./useArrangement";

/** The parts that the program or the checks name. */
export function useNamed(rig: Rig, text: string, checks: string): Set<string> {
  return useMemo(() => {
    const said = `${text}\n${checks}`.replace(/"[^"\n]*"|#.*/g, "");
    const words = new Set(said.match(/[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}_]+)?/gu) ?? []);
    // what is said of the drive is said of its wheels, also while they stand still
    const { drive } = rig.source as { drive?: { left?: string; right?: string } | null };
    if (words.has("drive") || words.has("turn")) [drive?.left, drive?.right].forEach((wheel) => wheel && words.add(wheel));
    if (words.has("message")) rig.parts.filter((part) => part.says).forEach((part) => words.add(part.name));
    return words;
  }, [rig, text, checks]);
}

export type VisibleLanes = ReturnType<typeof useVisibleLanes>;

/** The lanes worth seeing: those the program or the checks name, and outputs that move. */
export function useVisibleLanes(rig: Rig, named: Set<string>, readings: Lane[] | undefined, outputs: Lane[] | undefined, all: boolean, arrangement: Arrangement = PLAIN) {
  return useMemo(() => {
    const find = (list: Lane[] | undefined, role: string) =>
      [...rig.parts, ...rig.properties]
        .filter((part) => part.role === role)
        .flatMap((part) => {
          const lane = list?.find((item) => item.part === part.name);
          return lane ? [{ part, lane }] : [];
        });
    const sensors = find(readings, "sensor");
    const motors = find(outputs, "output");
    const away = new Set(all ? [] : arrangement.hidden);
    const seenSensors = sensors.filter(({ part }) => all || (named.has(part.name) && !away.has(part.name)));
    const seenMotors = motors.filter(({ part, lane }) => all || ((isLively(lane) || named.has(part.name)) && !away.has(part.name)));
    const hidden = sensors.length - seenSensors.length + motors.length - seenMotors.length;
    const some = seenSensors.length || !motors.length || away.size ? seenSensors : sensors.slice(0, 3);
    const ordered = (list: typeof sensors) => inOrder(list, ({ part }) => part.name, arrangement.order);
    return { readings: ordered(some), outputs: ordered(seenMotors), hidden };
  }, [rig, named, readings, outputs, all, arrangement]);
}

/** How much taller the signals may be drawn than they must be, so that a few lanes fill the view. */
export function room(height: number, lanes: { readings: { part: Part; lane: Lane }[]; outputs: unknown[] }, run: Run | null | undefined, checks: number): number {
  const tall = lanes.readings.filter(({ part, lane }) => !part.contact && !lane.texts).length;
  const signals = tall * (lanes.readings.length > 4 ? 62 : 78) + lanes.outputs.length * 54;
  const rows = new Set(run?.program.map((bar) => bar.lane)).size;
  const others = 130 + (lanes.readings.length - tall) * 40 + rows * 36 + checks * 32;
  return Math.min(1.9, Math.max(1, (height - others) / Math.max(1, signals)));
}
