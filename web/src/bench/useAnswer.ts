import { hashKey, replaceEqualDeep, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import type { BenchAnswer } from "../api/generated";
import { benchQuery, type BenchQuestion } from "../api/hooks";

const LONGEST = 500;

interface Shown {
  data: BenchAnswer | undefined;
  error: unknown;
}

function same(one: BenchQuestion | null, other: BenchQuestion): boolean {
  return one === other || (one !== null && hashKey([one]) === hashKey([other]));
}

/**
 * The bench's answer to a question that changes all the time: the next is asked as soon as the one before is answered,
 * so that the server works on it while that answer is drawn, or when it takes long. The answer before stays until a new
 * one is there; what failed is asked again when the server can be reached, or the window is come back to.
 *
 * Who knows what will be asked says so by `ask`: the server works while the page is drawn with the new text.
 */
export function useAnswer(question: BenchQuestion) {
  const client = useQueryClient();
  const [shown, setShown] = useState<Shown>({ data: undefined, error: null });
  const latest = useRef<BenchQuestion>(null);
  const before = useRef<BenchAnswer>(undefined);
  const asked = useRef(0); // how many were asked: an older one's answer is let go
  const waits = useRef<ReturnType<typeof setTimeout>>(undefined); // while one is on its way that must not be overtaken yet
  const busy = useRef(false);

  const send = useCallback(
    async function send(of: BenchQuestion) {
      const mine = ++asked.current;
      busy.current = true;
      clearTimeout(waits.current);
      waits.current = setTimeout(() => {
        waits.current = undefined;
        if (latest.current && !same(of, latest.current)) void send(latest.current);
      }, LONGEST);
      let error: unknown = null;
      try {
        const told = await client.fetchQuery(benchQuery(of));
        // what says the same as before stays the same object, and is not drawn anew
        if (mine === asked.current) before.current = replaceEqualDeep(before.current, told);
      } catch (problem) {
        error = problem;
      }
      if (mine !== asked.current) return;
      busy.current = false;
      clearTimeout(waits.current);
      if (latest.current && !same(of, latest.current)) void send(latest.current);
      setShown({ data: before.current, error });
    },
    [client],
  );
  const ask = useCallback(
    (now: BenchQuestion) => {
      if (now.rig === null || same(latest.current, now)) return;
      latest.current = now;
      if (!busy.current || waits.current === undefined) void send(now);
    },
    [send],
  );
  useEffect(() => ask(question), [ask, question]);
  const failed = shown.error !== null;
  useEffect(() => {
    if (!failed) return;
    const again = () => {
      if (latest.current && !busy.current) void send(latest.current);
    };
    addEventListener("online", again);
    addEventListener("focus", again);
    return () => {
      removeEventListener("online", again);
      removeEventListener("focus", again);
    };
  }, [failed, send]);
  useEffect(
    () => () => {
      asked.current += 1;
      clearTimeout(waits.current);
      void client.cancelQueries({ queryKey: ["bench"] });
    },
    [client],
  );
  return { ...shown, ask };
}
