import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useRigs, useRigWords } from "../api/hooks";
import { rigCheckCreate, rigsCreate, rigsFitCreate, rigsPartialUpdate, type Rig, type RigWords } from "../api/generated";
import { useSettled } from "../ui/useSettled";
import { show } from "../model/numbers";
import { Conflict } from "../saving/Conflict";
import { NotSaved } from "../saving/NotSaved";
import { SavedWord } from "../saving/SavedWord";
import { undoKeys } from "../saving/undoKeys";
import { useHistory } from "../saving/useHistory";
import { useSaved } from "../saving/useSaved";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { AsText } from "./AsText";
import { Board } from "./Board";
import { Elsewhere } from "./Elsewhere";
import { Exclusive } from "./Exclusive";
import { Drivers } from "./Drivers";
import { FieldForm, Typed } from "./FieldForm";
import { Outline } from "./Outline";
import { Past } from "./Past";
import { Ports } from "./Ports";
import { Rename, type Renamed } from "./Rename";
import { deg, freeName, freePort, type PartSource, type RigSource, withAt } from "./source";
import { TopView } from "./TopView";
import { PairTest, SpinTest, SwitchTest } from "./Trials";
import { Wheels } from "./Wheels";
import { useOpened } from "../shelf/useShelf";

const NOTHING = () => undefined;

/** A rig: the robot from above, each part with all that can be said of it, and what does not hold together. */
export function RigPage() {
  const id = Number(useParams().id);
  useOpened("rigs", id);
  const rigs = useRigs();
  const words = useRigWords();
  const error = rigs.error ?? words.error;
  const rig = rigs.data?.find((item) => item.id === id);
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!rigs.data || !words.data) return <p className="p-6">Opening the rig …</p>;
  if (!rig) return <p className="p-6">There is no such rig.</p>;
  if (rig.broken) return <p className="p-6">This rig cannot be read any more: {rig.broken} On the shelf a mended one can be put in its place.</p>;
  return <Editor key={rig.id} rig={rig} words={words.data} />;
}

function Editor({ rig, words }: { rig: Rig; words: RigWords }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { saving, left, save, settled, keepMine, takeTheirs } = useSaved<{ source: RigSource }>(
    async ({ source }, startedFrom) => {
      const kept = await answer(rigsPartialUpdate({ path: { id: rig.id }, body: { source, started_from: startedFrom["source"] } }));
      for (const key of ["rigs", "sheet", "lanes", "findings", "bench", "preview"]) void client.invalidateQueries({ queryKey: [key] });
      return { source: kept.version };
    },
    { source: rig.version },
    `rig ${rig.id}`,
  );
  const { value: source, change, replace, undo, redo } = useHistory<RigSource>(left.source ?? (rig.source as RigSource), NOTHING);
  const [chosen, setChosen] = useState<string | null>(null);
  const [renamed, setRenamed] = useState<Renamed | null>(null);
  const kinds = useMemo(() => new Map(words.kinds.map((kind) => [kind.word, kind])), [words]);
  const checked = useSettled(source, 80);
  const check = useQuery({
    queryKey: ["rig-check", checked],
    queryFn: ({ signal }) => answer(rigCheckCreate({ body: { source: checked }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 10_000,
  });
  const conflicts = check.data ?? [];
  const good = check.data?.length === 0 && !check.isPlaceholderData;
  const kept = useRef(source);
  // What does not hold together is not sent: it stays here until it is mended.
  useEffect(() => {
    if (!good || kept.current === checked) return;
    kept.current = checked;
    save({ source: checked });
  }, [good, checked, save]);
  const fit = useQuery({
    queryKey: ["rig-fit", rig.id, checked],
    queryFn: ({ signal }) => answer(rigsFitCreate({ path: { id: rig.id }, body: { source: checked }, signal })),
    enabled: good,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  const misfits = conflicts.length ? [] : (fit.data ?? []);
  const wrong = new Set([...conflicts, ...misfits].flatMap((item) => item.parts));
  const part = chosen === null ? undefined : source.parts[chosen];
  const copy = useChange(() => answer(rigsCreate({ body: { source: { ...source, name: `${source.name} copy` } } })), "rigs");

  const put = (name: string, next: PartSource, gesture: string) => change({ ...source, parts: { ...source.parts, [name]: next } }, gesture);
  const add = (kind: string) => {
    const name = freeName(source, kind);
    change({ ...source, parts: { ...source.parts, [name]: { kind, port: freePort(source, kind) } } }, "add");
    setChosen(name);
  };
  const remove = (name: string) => {
    const parts = { ...source.parts };
    delete parts[name];
    const groups = source.exclusive?.map((group) => group.filter((other) => other !== name)).filter((group) => group.length > 1);
    const next: RigSource = { ...source, parts, ...(groups ? { exclusive: groups } : {}) };
    if (source.drive?.left === name || source.drive?.right === name) {
      delete next.drive;
      delete next["calibration"];
    }
    change(next, "delete");
    setChosen(null);
  };
  const move = (name: string, ahead: number, left: number) => {
    const from = source.parts[name];
    if (!from) return;
    const placed = withAt(withAt(from, "physics.ahead", show(ahead, "cm", 1)), "physics.left", left ? show(left, "cm", 1) : undefined);
    put(name, placed, `move ${name}`);
  };
  const turn = (name: string, by: number) => {
    const from = source.parts[name];
    if (from) put(name, withAt(from, "physics.facing", show(deg(from.physics?.["facing"], 0) + by, "deg", 0)), `turn ${name}`);
  };
  const rigFields = words.rig.filter((field) => (field.key.startsWith("drive.") || field.key.startsWith("calibration.") ? source.drive : field.key === "body.radius" ? !source.body?.outline : true));
  const motors = Object.entries(source.parts).filter(([, item]) => item.kind === "motor" || item.kind === "stepper");

  return (
    <div className="flex h-full min-h-0 flex-col" onKeyDown={undoKeys(undo, redo)}>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-2">
        <h1 className="sr-only">{source.name}</h1>
        <span className="px-1.5 text-[17px] font-bold">{source.name}</span>
        <Menu>
          <MenuButton className="rounded border border-leaf bg-leaf px-2 py-1 text-[13px] text-paper hover:brightness-110">Add a part …</MenuButton>
          <MenuItems anchor={{ to: "bottom start", gap: 4 }} className="z-40 grid w-[300px] grid-cols-2 rounded border border-rule bg-paper py-1 shadow-lg">
            {words.kinds.map((kind) => (
              <MenuItem key={kind.word}>
                <button type="button" className="px-3 py-1 text-left text-[14px] data-focus:bg-leaf-wash" onClick={() => add(kind.word)}>
                  {kind.word}
                  <span className="text-[12px] text-soft"> {kind.role}</span>
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <Button small disabled={!undo} onClick={undo} title="Ctrl+Z">
          Undo
        </Button>
        <Button small disabled={!redo} onClick={redo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <Button small onClick={() => copy.mutate(undefined, { onSuccess: (made) => void navigate(`/rigs/${made.id}`) })}>
          Duplicate
        </Button>
        <a className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(source, null, 2))}`} download={`${source.name}.json`}>
          Export
        </a>
        <Past rig={rig.id} onBack={(now) => replace(now)} />
        <Link className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" to={`/rigs/${rig.id}/live`}>
          Live readings
        </Link>
        {source.drive && (
          <Link className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" to={`/rigs/${rig.id}/calibration`}>
            Calibration
          </Link>
        )}
        <span className="flex-1" />
        {conflicts.length > 0 ? (
          <span role="alert" className="text-[13px] font-bold text-clay">
            not saved: mend it first
          </span>
        ) : (
          <SavedWord saving={saving} />
        )}
      </div>
      <Trouble error={copy.error} />
      {misfits.length > 0 && (
        <ul className="max-h-24 overflow-y-auto border-b border-rule bg-ochre-wash px-3 py-1.5 text-[14px]" aria-label="What behaviours ask of it that it cannot do">
          {misfits.map((misfit) => (
            <li key={misfit.behaviour}>
              <Link className="font-bold underline underline-offset-2" to={`/bench/${misfit.behaviour}`}>
                {misfit.title}
              </Link>
              , line {misfit.line}: {misfit.message} {misfit.remedy}
            </li>
          ))}
        </ul>
      )}
      {conflicts.length > 0 ? (
        <ul className="max-h-24 overflow-y-auto border-b border-clay bg-clay-wash px-3 py-1.5 text-[14px]" role="alert" aria-label="What does not hold together">
          {conflicts.map((conflict) => (
            <li key={conflict.path + conflict.message}>
              {conflict.parts[0] && (
                <button type="button" className="font-bold text-clay underline underline-offset-2" onClick={() => setChosen(conflict.parts.at(-1) ?? null)}>
                  {conflict.parts.join(", ")}
                </button>
              )}{" "}
              {conflict.message} {conflict.remedy}
            </li>
          ))}
        </ul>
      ) : (
        <NotSaved saving={saving} />
      )}
      <Conflict
        saving={saving}
        what="This rig"
        kept=""
        onMine={keepMine}
        onTheirs={() => {
          const theirs = takeTheirs();
          if (theirs.source) replace(theirs.source);
        }}
      />
      <div className="flex min-h-0 flex-1">
        <div className="relative flex min-w-0 flex-1 flex-col p-2">
          {!source.drive && <Board source={source} chosen={chosen} wrong={wrong} onChoose={setChosen} />}
          <div className="min-h-0 flex-1">
          <TopView source={source} kinds={kinds} chosen={chosen} wrong={wrong} onChoose={setChosen} onMove={move} onTurn={turn} />
          </div>
          <Elsewhere source={source} kinds={kinds} chosen={chosen} wrong={wrong} onChoose={setChosen} />
          <p className="pointer-events-none absolute bottom-2 left-3 text-[12.5px] text-soft">Drag a sensor, or move it with the arrow keys; Shift goes farther, Alt finer. R turns it by 5 deg. The grid is 5 cm.</p>
        </div>
        <aside className="flex w-[356px] shrink-0 flex-col border-l border-rule bg-sheet" aria-label="Parts of the rig">
          <div className="relative max-h-[38%] overflow-y-auto border-b border-rule py-1">
            <Row word="The whole rig" detail="" lit={chosen === null} wrong={false} onChoose={() => setChosen(null)} />
            {Object.entries(source.parts).map(([name, item]) => (
              <Row key={name} word={name} detail={`${item.kind}, ${item.port}`} lit={chosen === name} wrong={wrong.has(name)} onChoose={() => setChosen(name)} />
            ))}
          </div>
          <div className="relative min-h-0 flex-1 overflow-y-auto px-3 py-2">
            {part && chosen !== null ? (
              <div className="space-y-1.5" key={chosen}>
                <div className="flex items-center gap-2">
                  <h2 className="flex-1 font-bold">
                    {chosen}, a {part.kind}
                  </h2>
                  <Button small onClick={() => remove(chosen)}>
                    Delete
                  </Button>
                </div>
                <Rename
                  rig={rig.id}
                  name={chosen}
                  settled={settled}
                  done={renamed?.name === chosen ? renamed : null}
                  onRenamed={(made) => {
                    setRenamed(made);
                    void client.invalidateQueries({ queryKey: ["rigs"] }).then(() => {
                      const now = client.getQueryData<Rig[]>(["rigs"])?.find((item) => item.id === rig.id);
                      if (now) replace(now.source as RigSource);
                      setChosen(made.name);
                    });
                  }}
                />
                <div className="flex items-center gap-2 text-[14px]">
                  <span className="flex-1">port</span>
                  <Typed label="Port" value={part.port} hint="" onChange={(port) => put(chosen, { ...part, port }, "port")} />
                </div>
                <FieldForm table={part} fields={kinds.get(part.kind)?.fields_of ?? []} onChange={(next, key) => put(chosen, next, `field ${chosen} ${key}`)} />
                {kinds.get(part.kind)?.fields_of.some((field) => field.key === "reversed") && <SpinTest rig={rig.id} name={chosen} source={source} onChange={change} />}
                {kinds.get(part.kind)?.contact && <SwitchTest rig={rig.id} name={chosen} source={source} onChange={change} />}
              </div>
            ) : (
              <div className="space-y-1.5">
                <h2 className="font-bold">The whole rig</h2>
                <div className="flex items-center gap-2 text-[14px]">
                  <span className="flex-1">name</span>
                  <Typed wide label="Name of the rig" value={source.name} hint="" onChange={(name) => name && change({ ...source, name }, "name")} />
                </div>
                <Wheels source={source} motors={motors.map(([name]) => name)} onChange={(next) => change(next, "drive")} />
                <FieldForm table={source} fields={rigFields} onChange={(next, key) => change(next, `rig ${key}`)} />
                <Exclusive source={source} contacts={Object.entries(source.parts).filter(([, item]) => kinds.get(item.kind)?.contact).map(([name]) => name)} onChange={(next) => change(next, "exclusive")} />
                <Outline source={source} onChange={(next) => change(next, "outline")} />
                <Ports source={source} onChange={(next) => change(next, "ports")} />
                <Drivers source={source} motors={motors.map(([name]) => name)} onChange={(next) => change(next, "drivers")} />
                <PairTest rig={rig.id} source={source} onChange={change} />
                <AsText source={source} onChange={(next) => change(next, "text")} />
              </div>
            )}
          </div>
        </aside>
      </div>
    </div>
  );
}

function Row({ word, detail, lit, wrong, onChoose }: { word: string; detail: string; lit: boolean; wrong: boolean; onChoose: () => void }) {
  return (
    <button type="button" className={`flex w-full items-baseline gap-2 px-3 py-0.5 text-left text-[14px] ${lit ? "bg-leaf-wash font-bold" : "hover:bg-sunk"}`} aria-pressed={lit} onClick={onChoose}>
      <span className={`min-w-0 flex-1 truncate ${wrong ? "text-clay" : ""}`}>
        {word}
        {wrong && " !"}
      </span>
      <span className="num text-[12.5px] font-normal text-soft">{detail}</span>
    </button>
  );
}
