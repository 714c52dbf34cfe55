import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { answer } from "../api/client";
import { useBehaviours, useChange, useRigs, useThresholdsOf } from "../api/hooks";
import { rigsLiveDoCreate, rigsLiveKeepCreate, rigsLiveKeyCreate, rigsLiveMeaningRetrieve, rigsLiveUse, type Live, type LiveReading, type RecipeDocument } from "../api/generated";
import { moved } from "../model/handles";
import { show } from "../model/numbers";
import { ColumnsTable } from "../recordings/ColumnsTable";
import { TimeForm } from "../recordings/TimeForm";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Strip } from "../ui/Strip";
import { Trouble } from "../ui/Trouble";
import { canReadCables } from "./cable";
import { said, seen } from "./said";
import { Thresholds } from "./Thresholds";
import { useCable } from "./useCable";
import { useLive } from "./useLive";

const BAUDS = ["9600", "19200", "38400", "57600", "115200", "230400"];

/** What a robot's sensors say now: over the network or from a cable, to be looked at, recorded and kept. */
export function LivePage() {
  const id = Number(useParams().id);
  const rigs = useRigs();
  const rig = rigs.data?.find((item) => item.id === id);
  const live = useLive(id, rig !== undefined);
  if (rigs.error) return <div className="p-6"><Trouble error={rigs.error} /></div>;
  if (!rigs.data) return <p className="p-6">Opening the readings …</p>;
  if (!rig) return <p className="p-6">There is no such rig.</p>;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-bold">
          Live readings of <Link className="text-leaf underline underline-offset-4" to={`/rigs/${rig.id}`}>{rig.name}</Link>
        </h1>
        {live.data && <State live={live.data} />}
        <span className="flex-1" />
        {live.data && <Recording rig={id} live={live.data} />}
      </div>
      <Trouble error={live.error} />
      <div className="flex min-h-0 flex-1">
        <section className="min-w-0 flex-1 overflow-y-auto px-4 py-3" aria-label="Readings">
          {live.data && live.data.readings.length > 0 ? <Readings rig={id} readings={live.data.readings} /> : <p className="max-w-[560px] text-soft">Nothing comes yet. Let the robot send its readings: over the network, or on a cable, as it says on the right. For practice a stand-in drives one of your floors and sends what its sensors read.</p>}
          <Meaning rig={id} live={live.data} />
        </section>
        <aside className="w-[372px] shrink-0 space-y-4 overflow-y-auto border-l border-rule bg-sheet px-4 py-3" aria-label="Where they come from">
          <FromCable rig={id} />
          <FromNetwork rig={id} name={rig.name} has={live.data?.has_key ?? false} />
        </aside>
      </div>
    </div>
  );
}

function State({ live }: { live: Live }) {
  const word = !live.heard ? "nothing came yet" : live.connected ? "comes" : `silent for ${show(live.silent_for ?? 0, "s", 0)}`;
  return (
    <span className="num text-[14px]" role="status" data-live={live.connected ? "comes" : "silent"}>
      <b className={`font-sans ${live.connected ? "text-leaf" : live.heard ? "text-clay" : "text-soft"}`}>{word}</b>
      {live.heard && (
        <span className="text-soft">
          {" "}
          {live.rate !== null && `${show(live.rate, "Hz", 0)}, `}
          {live.lines.toLocaleString("en-GB")} lines
          {live.unread > 0 && `, ${live.unread.toLocaleString("en-GB")} not read`}
        </span>
      )}
    </span>
  );
}

function Recording({ rig, live }: { rig: number; live: Live }) {
  const navigate = useNavigate();
  const act = useChange((what: "record" | "stop" | "forget") => answer(rigsLiveDoCreate({ path: { id: rig }, body: { do: what } })), "live");
  const keep = useChange((name: string) => answer(rigsLiveKeepCreate({ path: { id: rig }, body: { name } })), "traces", "live");
  const [name, setName] = useState("Live recording");
  return (
    <span className="flex items-center gap-2 text-[14px]">
      <Trouble error={act.error ?? keep.error} />
      <span className="num text-soft">{live.recording ? "records, " : "kept: "}{show(live.seconds, "s", 1)}</span>
      <Button small active={live.recording} disabled={!live.heard} onClick={() => act.mutate(live.recording ? "stop" : "record")}>
        {live.recording ? "Stop" : "Record anew"}
      </Button>
      <input className="w-36 rounded border border-rule bg-sheet px-1.5 py-0.5" value={name} maxLength={100} aria-label="Name of the trace" onChange={(event) => setName(event.target.value)} />
      <Button small strong disabled={live.seconds === 0 || !name.trim() || keep.isPending} onClick={() => keep.mutate(name.trim(), { onSuccess: (made) => void navigate(`/traces/${made.id}`) })}>
        Keep as a trace
      </Button>
    </span>
  );
}

function Readings({ rig, readings }: { rig: number; readings: LiveReading[] }) {
  const behaviours = (useBehaviours().data ?? []).filter((item) => item.rig === rig);
  const [chosen, setChosen] = useState("");
  const behaviour = behaviours.find((item) => String(item.id) === chosen);
  const asked = useThresholdsOf(rig, behaviour);
  const thresholds = behaviour && asked.data ? moved(asked.data.thresholds, asked.data.settings) : [];
  const height = readings.length < 5 ? 64 : readings.length < 9 ? 40 : 26;
  return (
    <>
    {behaviours.length > 0 && (
      <div className="mb-2">
        <Choice label="Beside the values that are compared in" value={chosen} options={[{ value: "", label: "no behaviour" }, ...behaviours.map((item) => ({ value: String(item.id), label: item.title }))]} onChange={setChosen} />
        {behaviour && (
          <Link className="ml-2 text-[14px] text-leaf underline underline-offset-2" to={`/bench/${behaviour.id}?live=1`}>
            Play it along on the bench
          </Link>
        )}
      </div>
    )}
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-b border-rule text-left text-[12.5px] text-soft">
          <th className="font-normal">Sensor</th>
          <th className="text-right font-normal">now</th>
          <th className="pl-4 font-normal">the last 10 s</th>
          <th className="text-right font-normal">least</th>
          <th className="text-right font-normal">greatest</th>
          <th className="text-right font-normal">noise</th>
          <th className="text-right font-normal">absent</th>
        </tr>
      </thead>
      <tbody>
        {readings.map((reading) => {
          const start = reading.times[0] ?? 0;
          const lane = { part: reading.name, times: reading.times.map((at) => at - start), values: reading.values };
          return (
            <tr key={reading.name} className="border-b border-rule" data-reading={reading.name}>
              <td className="py-1">
                <b>{reading.name}</b> <span className="text-[13px] text-soft">{reading.unit}</span>
                <Thresholds text={behaviour?.text ?? ""} thresholds={thresholds} reading={reading} />
              </td>
              <td className="num w-[112px] text-right text-[17px]">
                {said(reading)}
                {reading.raw !== null && <span className="block text-[12.5px] text-soft">raw {show(reading.raw, "", 0)}</span>}
              </td>
              <td className="w-[34%] py-1 pl-4">
                <Strip lane={lane} end={-start || 1} height={height} stepped={reading.contact} />
              </td>
              <td className="num text-right text-[13px]">{seen(reading, reading.least)}</td>
              <td className="num text-right text-[13px]">{seen(reading, reading.greatest)}</td>
              <td className="num text-right text-[13px]">{reading.contact || reading.text !== null ? "" : show(reading.noise, "", 2)}</td>
              <td className="num text-right text-[13px]">{show(reading.absent * 100, "%", 0)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
    </>
  );
}

/** Lines from a board on a cable, where the browser can read one. */
function FromCable({ rig }: { rig: number }) {
  const [baud, setBaud] = useState("115200");
  const cable = useCable();
  const mine = cable.rig === rig;
  const [state, trouble] = mine ? [cable.state, cable.trouble] : ["closed", ""];
  return (
    <section aria-label="From a cable" className="space-y-1.5 text-[14px]">
      <h2 className="font-bold">From a cable</h2>
      {canReadCables() ? (
        <div className="flex flex-wrap items-center gap-2">
          <Choice label="Baud rate" value={baud} options={BAUDS.map((value) => ({ value, label: value }))} onChange={setBaud} />
          {state === "open" ? (
            <Button small onClick={cable.close}>
              Stop
            </Button>
          ) : (
            <Button small onClick={() => void cable.open(rig, Number(baud))}>
              Choose the board …
            </Button>
          )}
          {state === "lost" && (
            <span role="alert" className="text-clay">
              The cable was pulled. What came is kept; choose the board again.
            </span>
          )}
        </div>
      ) : (
        <p className="text-soft">This browser cannot read a cable. Chromium and its kin can, on a page of this machine or behind TLS.</p>
      )}
      {trouble && <p role="alert" className="text-clay">{trouble}</p>}
    </section>
  );
}

/** Where a robot on the network sends to, and its key. */
function FromNetwork({ rig, name, has }: { rig: number; name: string; has: boolean }) {
  const make = useChange(() => answer(rigsLiveKeyCreate({ path: { id: rig } })), "live");
  const key = make.data?.key;
  const address = `${location.origin}/api/live`;
  return (
    <section aria-label="Over the network" className="space-y-1.5 text-[14px]">
      <h2 className="font-bold">Over the network</h2>
      <p>
        POST lines to <code className="num text-[13px]">{address}</code> with the key of this rig in the header <code className="num text-[13px]">X-Geduld-Key</code>: JSON, names and values, or CSV.
      </p>
      <div className="flex items-center gap-2">
        <Button small onClick={() => make.mutate(undefined)}>
          {has ? "A new key" : "Make a key"}
        </Button>
        {key ? <code className="num rounded bg-sunk px-1.5 text-[13px]" data-key="">{key}</code> : has && <span className="text-soft">The one that was made is valid; it is not shown again.</span>}
      </div>
      <Trouble error={make.error} />
      {key && (
        <>
          <p className="text-soft">For practice, with {name}.json exported from the rig&rsquo;s page and a floor:</p>
          <pre className="num overflow-x-auto rounded bg-sunk p-2 text-[12px]" tabIndex={0}>{`.venv/bin/python -m geduld.standin \\\n  --rig ${name}.json --floor FLOOR.json \\\n  --to ${address} --key ${key}`}</pre>
        </>
      )}
    </section>
  );
}

/** The lines as they come, and what each name in them means. */
function Meaning({ rig, live }: { rig: number; live: Live | undefined }) {
  const [open, setOpen] = useState(false);
  const found = useQuery({ queryKey: ["live-meaning", rig], queryFn: ({ signal }) => answer(rigsLiveMeaningRetrieve({ path: { id: rig }, signal })), enabled: open, retry: false });
  const use = useChange((recipe: RecipeDocument) => answer<void>(rigsLiveUse({ path: { id: rig }, body: { recipe } })), "live-meaning", "live");
  if (!live?.heard) return null;
  return (
    <section aria-label="What comes" className="mt-4 space-y-1.5 text-[14px]">
      <h2 className="font-bold">What comes</h2>
      <pre className="num overflow-x-auto rounded bg-sunk p-2 text-[12px]" tabIndex={0} aria-label="The last lines">
        {live.last_lines.map((line) => line.slice(0, 160)).join("\n")}
      </pre>
      {!open ? (
        <Button small onClick={() => setOpen(true)}>
          What its names mean …
        </Button>
      ) : (
        <>
          <Trouble error={found.error ?? use.error} />
          {found.data && (
            <div className="overflow-x-auto">
              <TimeForm live time={found.data.recipe.time} columns={found.data.columns} because="" onChange={(time) => use.mutate({ ...found.data.recipe, time })} />
              <ColumnsTable columns={found.data.columns} offers={found.data.offers} recipe={found.data.recipe} onChange={(columns) => use.mutate({ ...found.data.recipe, columns })} />
            </div>
          )}
        </>
      )}
    </section>
  );
}
