import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";

import { answer } from "../api/client";
import { floorsPartialUpdate, type Floor } from "../api/generated";
import { useRigs } from "../api/hooks";
import { Conflict } from "../saving/Conflict";
import { NotSaved } from "../saving/NotSaved";
import { SavedWord } from "../saving/SavedWord";
import { undoKeys } from "../saving/undoKeys";
import { useHistory } from "../saving/useHistory";
import { useSaved } from "../saving/useSaved";
import { Button } from "../ui/Button";
import { deg } from "../rigs/source";
import { acrossAt, LiftScene, type LiftView, Tray, upAt } from "./LiftScene";
import { type LoadSource, LoadForm, newLoad } from "./LoadForm";

export interface Worktop extends Record<string, unknown> {
  name: string;
  ambient?: string;
  note?: string;
  loads?: LoadSource[];
}

const FIELD = "rounded border border-rule bg-sheet px-1.5 py-0.5 text-[14px]";

/** A place without a floor: its light, and what motors lift there, grip, and put down. */
export function WorktopPage({ floor }: { floor: Floor }) {
  const client = useQueryClient();
  const rigs = useRigs().data ?? [];
  const { saving, left, save, keepMine, takeTheirs } = useSaved<{ source: Floor["source"] }>(
    async ({ source }, startedFrom) => {
      const kept = await answer(floorsPartialUpdate({ path: { id: floor.id }, body: { source, started_from: startedFrom["source"] } }));
      client.setQueryData(["floor", floor.id], kept);
      for (const key of ["floors", "sheet", "bench", "preview"]) void client.invalidateQueries({ queryKey: [key] });
      return { source: kept.version };
    },
    { source: floor.version },
    `floor ${floor.id}`,
  );
  const keep = useCallback((source: Worktop) => save({ source }), [save]);
  const { value: place, change, replace, undo, redo } = useHistory<Worktop>((left.source ?? floor.source) as Worktop, keep);
  const loads = place.loads ?? [];
  const put = (next: LoadSource[], gesture: string) => {
    const changed: Worktop = { ...place, loads: next };
    if (!next.length) delete changed.loads;
    change(changed, gesture);
  };
  // the motors of every rig that has at least two that are no wheels: one lifts, another grips
  const motors = [...new Set(rigs.flatMap((rig) => rig.parts.filter((part) => part.turns && part.kind === "motor").map((part) => part.name)))];
  return (
    <div className="flex h-full min-h-0 flex-col" onKeyDown={undoKeys(undo, redo)}>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-2">
        <h1 className="sr-only">{place.name}</h1>
        <input
          className="w-[260px] rounded border border-transparent bg-transparent px-1.5 py-0.5 text-[17px] font-bold hover:border-rule focus:border-rule"
          value={place.name}
          maxLength={100}
          aria-label="Name of the worktop"
          onChange={(event) => change({ ...place, name: event.target.value }, "name")}
        />
        <Button small strong onClick={() => put([...loads, newLoad(loads, motors)], "add")}>
          Add a load
        </Button>
        <Button small onClick={undo} disabled={!undo} title="Ctrl+Z">
          Undo
        </Button>
        <Button small onClick={redo} disabled={!redo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <span className="flex-1" />
        <SavedWord saving={saving} />
      </div>
      <NotSaved saving={saving} />
      <Conflict
        saving={saving}
        what="This worktop"
        kept=""
        onMine={keepMine}
        onTheirs={() => {
          const { source } = takeTheirs();
          if (source) replace(source as Worktop);
        }}
      />
      <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
        <p className="max-w-[720px]">
          A worktop is a place without a floor: nothing drives there, and wheels turn in the air. What motors lift is described by angles of what they move, counted from where they stand at the start.
        </p>
        <label className="mt-2 flex items-center gap-2 text-[14px]">
          Light on it
          <input className={`num ${FIELD} w-28 text-right`} defaultValue={place.ambient ?? ""} placeholder="200 lx" aria-label="Light on the worktop" onBlur={(event) => event.target.value !== (place.ambient ?? "") && change({ ...place, ambient: withLux(event.target.value) }, "light")} />
        </label>
        {loads.length === 0 && <p className="mt-4 text-soft">Nothing is lifted here. A load is gripped by one motor and lifted by another; a too heavy one stays where it is.</p>}
        {loads.map((load, index) => (
          <div key={index} className="mt-3 flex flex-wrap items-start gap-4">
            <LoadForm
              load={load}
              motors={motors}
              onChange={(next, gesture) => put(loads.map((item, at) => (at === index ? next : item)), `load ${index} ${gesture}`)}
              onDelete={() => put(loads.filter((_, at) => at !== index), "delete")}
            />
            <Places load={load} />
          </div>
        ))}
      </div>
    </div>
  );
}

/** Where a load can lie, drawn. */
function Places({ load }: { load: LoadSource }) {
  const aside = load.lies.flatMap((place) => Object.keys(place)).find((name) => name !== "name" && name !== load.lifted_by) ?? "";
  const places = load.lies.map((place) => ({ name: place["name"] ?? "", up: deg(place[load.lifted_by], 0), aside: place[aside] === undefined ? null : deg(place[aside], 0) }));
  const span = (values: number[]): [number, number] => [Math.min(0, ...values), Math.max(1, ...values) * 1.15];
  const view: LiftView = { width: 390, height: 240, across: span(places.map((place) => place.aside ?? 0)), upwards: span(places.map((place) => place.up)) };
  const first = places[0];
  return (
    <LiftScene view={view} places={places} says={[aside, load.lifted_by]} label={`Where ${load.name} can lie`}>
      {first && <Tray x={acrossAt(view, first.aside ?? 0)} y={upAt(view, first.up)} name={load.name} held={false} />}
    </LiftScene>
  );
}

function withLux(text: string): string | undefined {
  const plain = text.trim();
  return plain === "" ? undefined : /^[0-9.]+$/.test(plain) ? `${plain} lx` : plain;
}
