import { useMutation } from "@tanstack/react-query";
import { useCallback, useState } from "react";

import { answer } from "../api/client";
import { benchWhyCreate, benchWhyNotCreate, type WhyAnswer, type WhyNotAnswer } from "../api/generated";
import type { BenchQuestion } from "../api/hooks";
import { useAxis } from "./store";

/** A run, whatever part of it is seen. */
type Subject = Omit<BenchQuestion, "window">;

/** An answer to "why", with the question that it belongs to: a changed program makes it one about another run. */
export type Told = { of: Subject } & ({ kind: "output"; told: WhyAnswer } | { kind: "line"; line: number; told: WhyNotAnswer });

/** Why an output is so at the cursor, and why a line did not run. */
export function useWhy(subject: Subject) {
  const [told, setTold] = useState<Told | null>(null);
  const body = { ...subject, rig: subject.rig ?? 0 };
  const output = useMutation({
    mutationFn: (asked: { part: string; at: number }) => answer(benchWhyCreate({ body: { ...body, ...asked } })),
    onSuccess: (found) => {
      setTold({ of: subject, kind: "output", told: found });
      if (found.line) useAxis.getState().move(found.at);
    },
  });
  const line = useMutation({
    mutationFn: (asked: number) => answer(benchWhyNotCreate({ body: { ...body, line: asked } })),
    onSuccess: (found, asked) => setTold({ of: subject, kind: "line", line: asked, told: found }),
  });
  const { mutate: askOutput } = output;
  const { mutate: askLine } = line;
  return {
    told: told?.of === subject ? told : null,
    error: output.error ?? line.error,
    ofOutput: useCallback((part: string, at = useAxis.getState().cursor) => askOutput({ part, at }), [askOutput]),
    ofLine: useCallback((asked: number) => askLine(asked), [askLine]),
    close: useCallback(() => setTold(null), []),
  };
}
