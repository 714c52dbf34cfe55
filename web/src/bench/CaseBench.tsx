import { type ReactNode, useMemo, useState } from "react";

import type { ExerciseParts } from "../api/exerciseParts";
import { answer } from "../api/client";
import { type Doing, handInsRetrieve } from "../api/generated";
import { useHandIns } from "../api/hooks";
import { worldOf } from "../model/hands";
import type { Language } from "../model/languages";
import { Choice } from "../ui/Choice";
import { BenchView } from "./BenchView";
import type { Pinned } from "./Compare";
import { useAddress } from "./useAddress";

/** The bench with a program in the cases of an exercise, one at a time: the one that the address names. Hands in it are tries. */
export function CaseBench({ parts, title, notice, text, language, onText }: { parts: ExerciseParts; title: ReactNode; notice?: ReactNode; text: string; language?: Language; onText: (text: string) => void }) {
  const { exercise, rig, traces, floors } = parts;
  const address = useAddress();
  const chosen = exercise.cases.find((item) => item.name === address.text("case")) ?? exercise.cases[0];
  const [tried, setTried] = useState<{ of: number; doings: Doing[] } | null>(null);
  const [world, setWorld] = useState(() => ({ of: chosen, world: worldOf(chosen) }));
  if (world.of !== chosen) setWorld({ of: chosen, world: worldOf(chosen) });
  const [pinned, setPinned] = useState<Pinned | null>(null);
  const handIns = useHandIns(exercise.id).data;
  const others = useMemo(
    () =>
      (handIns ?? [])
        .filter((item) => !item.recorded)
        .map((item) => ({
          label: `the program of ${item.student}`,
          load: async (): Promise<Pinned> => {
            const found = await answer(handInsRetrieve({ path: { id: item.id } }));
            return { label: `the program of ${item.student}`, text: found.text, language: found.language ?? "notation" };
          },
        })),
    [handIns],
  );
  const inWorld = useMemo(() => (tried && tried.of === chosen?.id ? { ...world.world, doings: tried.doings } : world.world), [tried, chosen, world]);
  return (
    <BenchView
      title={title}
      notice={notice}
      choices={
        <Choice
          label="Case"
          value={chosen?.name ?? ""}
          options={exercise.cases.map((item) => ({ value: item.name, label: item.name }))}
          onChange={(value) => address.set("case", value)}
        />
      }
      remembers={`exercise ${exercise.id}`}
      place={String(chosen?.id ?? "")}
      pinned={pinned}
      others={others}
      onPin={setPinned}
      rig={rig}
      world={inWorld}
      trace={traces.find((item) => item.id === chosen?.trace) ?? null}
      floor={floors.find((item) => item.id === chosen?.floor) ?? null}
      exercise={exercise}
      text={text}
      language={language}
      wordbooks={exercise.wordbooks}
      openAt={address.number("at")}
      openCheck={address.text("check")}
      onText={onText}
      onWorld={({ doings }) => setTried(chosen ? { of: chosen.id, doings } : null)}
    />
  );
}
