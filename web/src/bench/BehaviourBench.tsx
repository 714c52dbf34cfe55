import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useParams } from "react-router";

import { answer } from "../api/client";
import { useBehaviour, useExercise, useFloors, useRigs, useTitles, useTraces } from "../api/hooks";
import { behavioursPartialUpdate, rigsLiveRetrieve, type Behaviour, type Floor, type Rig, type ShelfItem, type Trace } from "../api/generated";
import type { World } from "../api/world";
import { NO_WORLD } from "../model/hands";
import type { Versions } from "../model/saver";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { BenchView } from "./BenchView";
import { Conflict } from "../saving/Conflict";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import type { Pinned } from "./Compare";
import { InClassWords } from "./InClassWords";
import { Revisions } from "./Revisions";
import { useAddress } from "./useAddress";
import { WorldChoice } from "./WorldChoice";
import { useOpened } from "../shelf/useShelf";

/** The bench with one of the teacher's own behaviours. */
export function BehaviourBench() {
  const id = Number(useParams().id);
  useOpened("behaviours", id);
  const behaviour = useBehaviour(id);
  const rigs = useRigs();
  const traces = useTraces();
  const floors = useFloors();
  const exercises = useTitles("exercises", behaviour.data?.rig);
  const error = behaviour.error ?? rigs.error ?? traces.error ?? floors.error ?? exercises.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  const rig = rigs.data?.find((item) => item.id === behaviour.data?.rig);
  if (!behaviour.data || !rig || !traces.data || !floors.data || !exercises.data) return <p className="p-6">Opening the bench …</p>;
  return (
    <Open
      key={id}
      behaviour={behaviour.data}
      rig={rig}
      traces={traces.data.filter((trace) => trace.rig === rig.id)}
      floors={floors.data}
      exercises={exercises.data}
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
  floors: Floor[];
  exercises: ShelfItem[];
}

/** The world that a behaviour was run in last, as far as it is still there; else the trace that fits it. */
function worldOf({ behaviour, rig, traces, floors }: OpenProps, address: { number: (name: string) => number | null }): World {
  const kept: World = { ...NO_WORLD, ...behaviour.world };
  const linked = traces.find((item) => item.id === address.number("trace"));
  if (linked) return { ...NO_WORLD, trace: linked.id };
  const there = floors.some((item) => item.id === kept.floor) || traces.some((item) => item.id === kept.trace);
  return there ? kept : { ...NO_WORLD, trace: fitting(traces, rig, behaviour.text)?.id ?? null };
}

function Open(props: OpenProps) {
  const { behaviour, rig, traces, floors, exercises } = props;
  const client = useQueryClient();
  const address = useAddress();
  const setAddress = address.set;
  const [history, setHistory] = useState(false);
  const [pinned, setPinned] = useState<Pinned | null>(null);
  const { saving, left, save, keepMine, takeTheirs } = useSaved<{ text: string; world: World }>(
    async (change, startedFrom): Promise<Versions> => {
      const sent = "text" in change ? { ...change, started_from: startedFrom["text"] } : change;
      const kept = await answer(behavioursPartialUpdate({ path: { id: behaviour.id }, body: sent }));
      client.setQueryData(["behaviour", behaviour.id], kept);
      if ("text" in change) void client.invalidateQueries({ queryKey: ["behaviours"] });
      return "text" in change ? { text: kept.version } : {};
    },
    { text: behaviour.version },
    `behaviour ${behaviour.id}`,
  );
  const [text, setText] = useState(left.text ?? behaviour.text);
  const [world, setWorld] = useState(() => left.world ?? worldOf(props, address));
  const choose = useCallback(
    (next: World) => {
      setWorld(next);
      save({ world: next });
    },
    [save],
  );
  const [live, setLive] = useState<number | null>(null);
  const playLive = useMutation({ mutationFn: () => answer(rigsLiveRetrieve({ path: { id: rig.id } })), onSuccess: ({ clock }) => setLive(clock) });
  const { mutate: startLive } = playLive;
  const asked = address.number("live") !== null;
  useEffect(() => {
    if (asked) startLive();
  }, [asked, startLive]);
  const exercise = useExercise(address.number("exercise")).data ?? null;
  const latest = useRef(text);
  useEffect(() => {
    latest.current = text;
  }, [text]);
  const write = useCallback(
    (next: string) => {
      if (next === latest.current) return; // a text that came from elsewhere is kept there already
      latest.current = next;
      setText(next);
      save({ text: next });
    },
    [save],
  );
  const shown = address.text("exercise") ?? "";
  // what does not depend on the text is not drawn anew at each key
  const choices = useMemo(
    () => (
      <>
        <WorldChoice rig={rig} traces={traces} floors={floors} world={world} onWorld={choose} live={live !== null} onLive={(on) => (on ? startLive() : setLive(null))}>
          <label className="flex items-center gap-2">
            <span className="w-20 shrink-0">Checks of</span>
            <select
              className="min-w-0 flex-1 rounded border border-rule bg-sheet px-1.5 py-1 text-[14px]"
              value={shown}
              onChange={(event) => setAddress("exercise", event.target.value || null)}
            >
              <option value="">no exercise</option>
              {exercises.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.name}
                </option>
              ))}
            </select>
          </label>
        </WorldChoice>
        {live !== null && (
          <Button small onClick={() => startLive()} title="From its first line, from now on">
            Play anew
          </Button>
        )}
      </>
    ),
    [rig, traces, floors, world, choose, live, startLive, exercises, shown, setAddress],
  );
  return (
    <>
      <BenchView
        title={
          <div className="flex items-center gap-2">
            <h1 className="min-w-0 flex-1 truncate text-[17px] font-bold">{behaviour.title}</h1>
            <SavedWord saving={saving} />
            <InClassWords rig={rig.id} title={behaviour.title} text={text} />
            <Button small onClick={() => setHistory(true)}>
              Earlier texts
            </Button>
          </div>
        }
        live={live}
        choices={choices}
        notice={
          <Conflict
            saving={saving}
            what="This behaviour"
            kept="Yours is also under Earlier texts."
            onMine={keepMine}
            onTheirs={() => setText(takeTheirs().text ?? text)}
          />
        }
        remembers={`behaviour ${behaviour.id}`}
        pinned={pinned}
        onPin={setPinned}
        rig={rig}
        world={world}
        trace={traces.find((item) => item.id === world.trace) ?? null}
        floor={floors.find((item) => item.id === world.floor) ?? null}
        exercise={exercise}
        text={text}
        openAt={address.number("at")}
        openCheck={address.text("check")}
        onText={write}
        onWorld={choose}
      />
      <Revisions behaviour={behaviour.id} now={text} open={history} onClose={() => setHistory(false)} onTake={write} onCompare={setPinned} />
    </>
  );
}
