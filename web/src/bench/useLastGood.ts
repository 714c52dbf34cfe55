import { useState } from "react";

import type { BenchAnswer } from "../api/generated";
import type { World } from "../api/world";

interface Good {
  answer: BenchAnswer | undefined;
  lines: string[];
  world: World;
}

/**
 * What is drawn: the answer that came last, or, while the text has an error, what the last text without one did in the
 * same world. Each second key leaves a text with an error, and nothing should jump for that.
 */
export function useLastGood(told: BenchAnswer | undefined, text: string, world: World) {
  const [good, setGood] = useState<Good>({ answer: undefined, lines: [], world });
  if (told?.run && told !== good.answer) setGood({ answer: told, lines: text.split("\n"), world });
  const wrong = told !== undefined && !told.run && !told.world_problem && told.hints.some((hint) => hint.level === "error");
  const stale = wrong && good.answer !== undefined && good.world === world;
  return { answer: stale ? good.answer : told, stale, good };
}
