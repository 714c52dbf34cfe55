import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useParams } from "react-router";

import { answer } from "../api/client";
import { useLanes, useNotes, useRigs, useTrace, useTraces } from "../api/hooks";
import { tracesPartialUpdate, type Lane, type Rig, type Trace } from "../api/generated";
import { Lanes } from "../bench/Lanes";
import { SignalLane } from "../bench/SignalLane";
import { startClock, useAxis } from "../bench/store";
import { TextLane } from "../bench/TextLane";
import { TimeAxis } from "../bench/TimeAxis";
import { Transport } from "../bench/Transport";
import { useAddress } from "../bench/useAddress";
import { useBenchKeys } from "../bench/useBenchKeys";
import { useSettled } from "../ui/useSettled";
import { useSize } from "../bench/useSize";
import { useSteps } from "../bench/useSteps";
import { NumberField } from "../ui/NumberField";
import { instants, isLively } from "../model/signals";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";
import { DrawPane } from "./DrawPane";
import { MakePane } from "./MakePane";
import { NotesPane } from "./NotesPane";
import { Overview } from "../bench/Overview";
import { StretchPane } from "./StretchPane";
import { ThresholdPane } from "./ThresholdPane";
import { useOpened } from "../shelf/useShelf";

const COLUMNS = 900;
const TABS = ["Stretch", "Threshold", "Notes", "Make", "Draw"];

/** A trace: all of it at a glance, any part of it close by, and what can be found out about it. */
export function TracePage() {
  const id = Number(useParams().id);
  useOpened("traces", id);
  const trace = useTrace(id);
  const rigs = useRigs();
  const error = trace.error ?? rigs.error;
  const rig = rigs.data?.find((item) => item.id === trace.data?.rig);
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!trace.data || !rig) return <p className="p-6">Opening the trace …</p>;
  return <Open key={trace.data.id} trace={trace.data} rig={rig} />;
}

function Open({ trace, rig }: { trace: Trace; rig: Rig }) {
  const client = useQueryClient();
  const [name, setName] = useState(trace.name);
  const { saving, save } = useSaved<{ name: string }>(async (change) => {
    await answer(tracesPartialUpdate({ path: { id: trace.id }, body: change }));
    void client.invalidateQueries({ queryKey: ["traces"] });
    return {};
  });
  const end = trace.duration_us / 1e6;
  const address = useAddress();
  const openAt = address.number("at");
  const axis = useAxis();
  useEffect(startClock, []);
  useEffect(() => {
    useAxis.getState().setEnd(end);
    useAxis.getState().move(openAt ?? 0);
  }, [end, openAt]);
  const others = (useTraces().data ?? []).filter((item) => item.rig === rig.id && item.id !== trace.id);
  const [over, setOver] = useState("");
  const [later, setLater] = useState(0);
  const second = others.find((item) => String(item.id) === over);
  // More than what is seen is fetched, so that moving along shows something before the next answer is there.
  const span = axis.to - axis.from;
  const seen = useSettled(useMemo(() => ({ from: Math.max(0, axis.from - span), to: Math.min(end, axis.to + span) }), [axis.from, axis.to, span, end]), 60);
  const near = useLanes(trace.id, seen.from, seen.to, COLUMNS * 3);
  const whole = useLanes(trace.id, 0, end, 300);
  const ghosts = useBeside(second?.id ?? null, later, seen);
  const notes = useNotes(trace.id).data ?? [];
  const lanes = useMemo(() => near.data?.lanes ?? [], [near.data]);
  const parts = useMemo(
    () => [...rig.parts, ...rig.properties].filter((part) => trace.channels.includes(part.name) && !part.name.endsWith(".messages")),
    [rig, trace.channels],
  );
  const step = useSteps(useMemo(() => instants(lanes.filter((lane) => lane.texts ?? isContact(lane)).map((lane) => lane.times)), [lanes]));
  useBenchKeys(step);
  useSelectKeys();
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const tall = parts.filter((part) => !part.contact && !part.says).length;
  const each = Math.max(56, Math.min(150, (height - 24 - 56 - (parts.length - tall) * 42) / Math.max(1, tall)));
  const glance = whole.data?.lanes.find((lane) => !lane.texts && !isContact(lane) && isLively(lane)) ?? whole.data?.lanes[0];
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Trace">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-3 py-2">
          <h1 className="sr-only">{name}</h1>
          <input
            className="w-[190px] rounded border border-transparent bg-transparent px-1.5 py-0.5 text-[17px] font-bold hover:border-rule focus:border-rule"
            value={name}
            maxLength={100}
            aria-label="Name of the trace"
            onChange={(event) => {
              setName(event.target.value);
              if (event.target.value.trim()) save({ name: event.target.value });
            }}
          />
          <SavedWord saving={saving} />
          <span className="flex-1" />
          <Transport onStep={step} />
        </div>
        {others.length > 0 && (
          <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1.5 text-[14px]">
            <Choice label="Behind it" value={over} options={[{ value: "", label: "no other trace" }, ...others.map((item) => ({ value: String(item.id), label: item.name }))]} onChange={setOver} />
            {second && <NumberField label="The other one later by" word="later by" unit="s" value={later} onChange={setLater} />}
            <span className="text-[13px] text-soft">Drag with Shift to choose a stretch; Ctrl and wheel to zoom.</span>
          </div>
        )}
        <Trouble error={near.error ?? whole.error} />
        <div ref={box} className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
          {width > 0 && axis.end === end && (
            <>
              {glance && <Overview label="whole trace" lane={glance} width={width} height={44} marks={notes.map((note) => ({ at: note.at, tone: "var(--ochre)" }))} />}
              <Lanes width={width} selectable>
                <TimeAxis width={width} />
                {parts.map((part) => {
                  const lane = lanes.find((item) => item.part === part.name);
                  if (!lane) return null;
                  return lane.texts ? (
                    <TextLane key={part.name} part={part} lane={lane} width={width} />
                  ) : (
                    <SignalLane key={part.name} part={part} lane={lane} ghost={ghosts.get(part.name)} width={width} height={part.contact ? 40 : Math.round(each)} />
                  );
                })}
              </Lanes>
            </>
          )}
        </div>
      </section>
      <aside className="flex w-[344px] shrink-0 flex-col border-l border-rule bg-sheet" aria-label="About the trace">
        <TabGroup className="flex min-h-0 flex-1 flex-col" defaultIndex={address.text("tab") === "draw" ? TABS.indexOf("Draw") : 0}>
          <TabList className="flex border-b border-rule px-2 pt-1.5 text-[14px]">
            {TABS.map((tab) => (
              <Tab key={tab} className="border-b-2 border-transparent px-2 pb-1.5 text-soft data-selected:border-leaf data-selected:font-bold data-selected:text-ink">
                {tab}
              </Tab>
            ))}
          </TabList>
          <TabPanels className="min-h-0 flex-1 overflow-y-auto px-3 py-2">
            <TabPanel>
              <StretchPane trace={trace.id} />
            </TabPanel>
            <TabPanel>
              <ThresholdPane trace={trace} parts={parts} />
            </TabPanel>
            <TabPanel>
              <NotesPane trace={trace.id} />
            </TabPanel>
            <TabPanel>
              <MakePane trace={trace} others={others} parts={parts} />
            </TabPanel>
            <TabPanel>
              <DrawPane trace={trace.id} parts={[...rig.parts, ...rig.properties].filter((part) => !/\.(messages|presses|releases)$/.test(part.name))} />
            </TabPanel>
          </TabPanels>
        </TabGroup>
      </aside>
    </div>
  );
}

/** The lanes of another trace, moved in time, by their parts. */
function useBeside(other: number | null, later: number, seen: { from: number; to: number }): Map<string, Lane> {
  const { data } = useLanes(other, Math.max(0, seen.from - later), Math.max(0.001, seen.to - later), COLUMNS * 3);
  return useMemo(() => {
    const lanes = other === null ? [] : (data?.lanes ?? []);
    return new Map(lanes.map((lane) => [lane.part, { ...lane, times: lane.times.map((time) => time + later) }]));
  }, [data, other, later]);
}

function isContact(lane: Lane): boolean {
  return lane.values.every((value) => value === null || value === 0 || value === 1);
}

/** The keys [ and ]: a stretch from the cursor on, and up to it. */
function useSelectKeys(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea, select") || event.ctrlKey || event.metaKey) return;
      const { selected, cursor, from, to, select } = useAxis.getState();
      if (event.key === "[") select([cursor, selected && selected[1] > cursor ? selected[1] : to]);
      else if (event.key === "]") select([selected && selected[0] < cursor ? selected[0] : from, cursor]);
      else if (event.key === "Escape") select(null);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
}
