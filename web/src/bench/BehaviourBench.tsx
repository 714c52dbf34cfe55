import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";

import { api } from "../api/client";
import { useBehaviour, useExercises, useRigs, useTraces } from "../api/hooks";
import type { Behaviour, Exercise, Rig, Trace } from "../api/types";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";
import { BenchView } from "./BenchView";
import { Revisions } from "./Revisions";
import { SavedWord } from "./SavedWord";
import { useAddress } from "./useAddress";
import { useSaved } from "./useSaved";

/** The bench with one of the teacher's own behaviours. */
export function BehaviourBench() {
  const id = Number(useParams().id);
  const behaviour = useBehaviour(id);
  const rigs = useRigs();
  const traces = useTraces();
  const exercises = useExercises();
  const error = behaviour.error ?? rigs.error ?? traces.error ?? exercises.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  const rig = rigs.data?.find((item) => item.id === behaviour.data?.rig);
  if (!behaviour.data || !rig || !traces.data || !exercises.data) return <p className="p-6">Opening the bench …</p>;
  return (
    <Open
      key={id}
      behaviour={behaviour.data}
      rig={rig}
      traces={traces.data.filter((trace) => trace.rig === rig.id)}
      exercises={exercises.data.filter((exercise) => exercise.rig === rig.id)}
    />
  );
}

/** The trace that recorded most of what a program reads; of equals the first. */
function fitting(traces: Trace[], rig: Rig, text: string): Trace | null {
  const words = new Set(text.match(/[\p{L}_][\p{L}\p{N}_]*/gu) ?? []);
  const says = rig.parts.filter((part) => part.says && words.has("message")).map((part) => part.name);
  const known = (trace: Trace) => trace.channels.filter((name) => words.has(name) || says.includes(name)).length;
  return traces.reduce<Trace | null>((best, trace) => (best && known(best) >= known(trace) ? best : trace), null);
}

interface OpenProps {
  behaviour: Behaviour;
  rig: Rig;
  traces: Trace[];
  exercises: Exercise[];
}

function Open({ behaviour, rig, traces, exercises }: OpenProps) {
  const client = useQueryClient();
  const address = useAddress();
  const [text, setText] = useState(behaviour.text);
  const [history, setHistory] = useState(false);
  const { saving, save } = useSaved(async (next) => {
    client.setQueryData(["behaviour", behaviour.id], await api.patch<Behaviour>(`behaviours/${behaviour.id}`, { text: next }));
    void client.invalidateQueries({ queryKey: ["behaviours"] });
  });
  const trace = traces.find((item) => item.id === address.number("trace")) ?? fitting(traces, rig, behaviour.text);
  const exercise = exercises.find((item) => item.id === address.number("exercise")) ?? null;
  const write = (next: string) => {
    if (next === text) return;
    setText(next);
    save(next);
  };
  return (
    <>
      <BenchView
        title={
          <div className="flex items-center gap-2">
            <h1 className="min-w-0 flex-1 truncate text-[17px] font-bold">{behaviour.title}</h1>
            <SavedWord saving={saving} />
            <Button small onClick={() => setHistory(true)}>
              Earlier texts
            </Button>
          </div>
        }
        choices={
          <>
            <Choice
              label="Trace"
              value={String(trace?.id ?? "")}
              options={traces.map((item) => ({ value: String(item.id), label: item.name }))}
              onChange={(value) => address.set("trace", value)}
            />
            <Choice
              label="Checks of"
              value={String(exercise?.id ?? "")}
              options={[{ value: "", label: "no exercise" }, ...exercises.map((item) => ({ value: String(item.id), label: item.title }))]}
              onChange={(value) => address.set("exercise", value || null)}
            />
          </>
        }
        rig={rig}
        trace={trace}
        exercise={exercise}
        limit={null}
        text={text}
        openAt={address.number("at")}
        openCheck={null}
        onText={write}
      />
      <Revisions behaviour={behaviour.id} now={text} open={history} onClose={() => setHistory(false)} onTake={write} />
    </>
  );
}
