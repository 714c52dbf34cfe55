import { useEffect, useState } from "react";

import { type BenchQuestion, useBench } from "../api/hooks";

const LONGEST = 500;

/** The bench's answer to a question that changes all the time: the next is asked as soon as the one before is answered. */
export function useAnswer(question: BenchQuestion) {
  const [asked, setAsked] = useState(question);
  const bench = useBench(asked);
  const busy = bench.isFetching;
  if (!busy && asked !== question) setAsked(question);
  useEffect(() => {
    if (asked === question || !busy) return;
    const timer = setTimeout(() => setAsked(question), LONGEST);
    return () => clearTimeout(timer);
  }, [asked, question, busy]);
  return bench;
}
