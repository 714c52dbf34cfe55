import { keepPreviousData, replaceEqualDeep, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";

import type { BenchAnswer } from "../api/generated";
import { benchQuery, type BenchQuestion } from "../api/hooks";

const LONGEST = 500;

/**
 * The bench's answer to a question that changes all the time: the next is asked as soon as the one before is answered,
 * so that the server works on it while that answer is drawn. The answer before stays until a new one is there.
 */
export function useAnswer(question: BenchQuestion) {
  const client = useQueryClient();
  const [asked, setAsked] = useState(question);
  const [next, setNext] = useState<BenchQuestion | null>(null); // what the server works on already
  const latest = useRef(question);
  const before = useRef<BenchAnswer>(undefined);
  useLayoutEffect(() => {
    latest.current = question;
  }, [question]);

  const query = useCallback(
    function queryOf(of: BenchQuestion): ReturnType<typeof benchQuery> {
      const { queryFn, ...rest } = benchQuery(of);
      const ask: typeof queryFn = async (context) => {
        // what says the same as before stays the same object, and is not drawn anew
        const told = replaceEqualDeep(before.current, await queryFn(context));
        before.current = told;
        const { current } = latest;
        if (current !== of && current.rig !== null) {
          setNext(current);
          void client.prefetchQuery(queryOf(current));
        }
        return told;
      };
      return { ...rest, queryFn: ask };
    },
    [client],
  );
  const bench = useQuery({ ...query(asked), placeholderData: keepPreviousData });
  const busy = bench.isFetching;
  if (!busy && asked !== question) {
    setAsked(next ?? question);
    setNext(null);
  }
  useEffect(() => {
    if (asked === question || !busy) return;
    const timer = setTimeout(() => setAsked(question), LONGEST);
    return () => clearTimeout(timer);
  }, [asked, question, busy]);
  return bench;
}
