import { useEffect, useState } from "react";

import { type BenchQuestion, useBench } from "../api/hooks";
import { useSettled } from "../ui/useSettled";

const LONGEST = 500;

/** The bench's answer to a question that changes all the time: the next is asked when the one before is answered. */
export function useAnswer(question: BenchQuestion) {
  const settled = useSettled(question, 25);
  const [asked, setAsked] = useState(settled);
  const bench = useBench(asked);
  const busy = bench.isFetching;
  useEffect(() => {
    if (asked === settled) return;
    const timer = setTimeout(() => setAsked(settled), busy ? LONGEST : 0);
    return () => clearTimeout(timer);
  }, [asked, settled, busy]);
  return bench;
}
