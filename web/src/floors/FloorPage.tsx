import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { useParams } from "react-router";

import { answer } from "../api/client";
import { useFloor } from "../api/hooks";
import { floorsPartialUpdate, type Floor } from "../api/generated";
import { Conflict } from "../saving/Conflict";
import { undoKeys } from "../saving/undoKeys";
import { useHistory } from "../saving/useHistory";
import { NotSaved } from "../saving/NotSaved";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { EditableFloor } from "./EditableFloor";
import { FloorForm } from "./FloorForm";
import { moved, type Point } from "./geometry";
import { isWorktop, type Plan, planOf, sourceOf, type Thing } from "./plan";
import { isSame, type Selection, selectable, thingOf, withThing, without, wordFor } from "./selection";
import { freeName, TEMPLATES } from "./templates";
import { ThingForm } from "./ThingForm";
import { WorktopPage } from "./WorktopPage";
import { useOpened } from "../shelf/useShelf";

const STEPS = [0, 1, 5, 10];

/** A floor to be drawn: things are added, dragged, turned, and given exact numbers. */
export function FloorPage() {
  const id = Number(useParams().id);
  useOpened("floors", id);
  const floor = useFloor(id);
  if (floor.error) return <div className="p-6"><Trouble error={floor.error} /></div>;
  if (!floor.data) return <p className="p-6">Opening the floor …</p>;
  if (isWorktop(floor.data.source)) return <WorktopPage key={floor.data.id} floor={floor.data} />;
  return <Editor key={floor.data.id} floor={floor.data} />;
}

function Editor({ floor }: { floor: Floor }) {
  const client = useQueryClient();
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
  const keep = useCallback((plan: Plan) => save({ source: sourceOf(plan) }), [save]);
  const { value: plan, change, replace, undo, redo } = useHistory(planOf(left.source ?? floor.source), keep);
  const [chosen, setChosen] = useState<Selection>(null);
  const [step, setStep] = useState(5);
  const thing = thingOf(plan, chosen);

  const put = (group: (typeof TEMPLATES)[number]["group"], made: Thing) => {
    const named = made.name && group !== "surfaces" ? { ...made, name: freeName(plan, made.name) } : made;
    setChosen({ group, index: plan[group].length });
    change({ ...plan, [group]: [...plan[group], named] }, "add");
  };
  const copy = () => {
    if (chosen !== null && chosen !== "start" && thing) put(chosen.group, moved(thing, 15, -15));
  };
  const remove = () => {
    if (chosen === null || chosen === "start") return;
    change(without(plan, chosen), "delete");
    setChosen(null);
  };
  const middle: Point = [plan.size[0] / 2, plan.size[1] / 2];

  return (
    <div className="flex h-full min-h-0 flex-col" onKeyDown={undoKeys(undo, redo)}>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-2">
        <h1 className="sr-only">{plan.name}</h1>
        <input
          className="w-[220px] rounded border border-transparent bg-transparent px-1.5 py-0.5 text-[17px] font-bold hover:border-rule focus:border-rule"
          value={plan.name}
          maxLength={100}
          aria-label="Name of the floor"
          onChange={(event) => change({ ...plan, name: event.target.value }, "name")}
        />
        <Menu>
          <MenuButton className="rounded border border-leaf bg-leaf px-2 py-1 text-[13px] text-paper hover:brightness-110">Add …</MenuButton>
          <MenuItems anchor={{ to: "bottom start", gap: 4 }} className="z-40 w-[170px] rounded border border-rule bg-paper py-1 shadow-lg">
            {TEMPLATES.map(({ word, group, make }) => (
              <MenuItem key={word}>
                <button type="button" className="block w-full px-3 py-1 text-left text-[14px] data-focus:bg-leaf-wash" onClick={() => put(group, make(middle))}>
                  {word}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <Button small onClick={copy} disabled={chosen === null || chosen === "start"}>
          Copy
        </Button>
        <Button small onClick={remove} disabled={chosen === null || chosen === "start"} title="Delete">
          Delete
        </Button>
        <Button small onClick={undo} disabled={!undo} title="Ctrl+Z">
          Undo
        </Button>
        <Button small onClick={redo} disabled={!redo} title="Ctrl+Shift+Z">
          Redo
        </Button>
        <label className="flex items-center gap-1.5 text-[13px] text-soft">
          Snap to
          <select className="rounded border border-rule bg-sheet px-1 py-1 text-ink" value={step} onChange={(event) => setStep(Number(event.target.value))}>
            {STEPS.map((size) => (
              <option key={size} value={size}>
                {size === 0 ? "nothing" : `${size} cm`}
              </option>
            ))}
          </select>
        </label>
        <span className="flex-1" />
        <SavedWord saving={saving} />
      </div>
      <NotSaved saving={saving} />
      <Conflict
        saving={saving}
        what="This floor"
        kept=""
        onMine={keepMine}
        onTheirs={() => {
          const { source } = takeTheirs();
          if (source) replace(planOf(source));
        }}
      />
      <div className="flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 p-2">
          <EditableFloor plan={plan} chosen={chosen} step={step} onChoose={setChosen} onChange={change} onDelete={remove} />
        </div>
        <aside className="flex w-[322px] shrink-0 flex-col border-l border-rule bg-sheet" aria-label="What is on the floor">
          <div className="relative max-h-[42%] overflow-y-auto border-b border-rule py-1">
            <Row word={`${plan.name}, the whole floor`} lit={chosen === null} onChoose={() => setChosen(null)} />
            {selectable(plan).map((selection) => (
              <Row
                key={selection === "start" ? "start" : `${selection.group}${selection.index}`}
                word={wordFor(plan, selection)}
                lit={isSame(chosen, selection)}
                onChoose={() => setChosen(selection)}
              />
            ))}
          </div>
          <div className="relative min-h-0 flex-1 overflow-y-auto px-3 py-2">
            <h2 className="mb-1.5 font-bold">{thing ? wordFor(plan, chosen) : "The whole floor"}</h2>
            {thing && chosen !== null ? (
              <ThingForm
                key={chosen === "start" ? "start" : `${chosen.group}${chosen.index}`}
                group={chosen === "start" ? "start" : chosen.group}
                thing={thing}
                onChange={(next) => change(withThing(plan, chosen, next), `form ${wordFor(plan, chosen)}`)}
              />
            ) : (
              <FloorForm plan={plan} onChange={(next) => change(next, "form floor")} />
            )}
            <p className="mt-3 text-[12.5px] text-soft">
              Arrow keys move what is chosen by {step || 1} cm, with Shift ten times as far, with Alt a tenth. R turns it by 5 deg, Shift+R back.
            </p>
          </div>
        </aside>
      </div>
    </div>
  );
}

function Row({ word, lit, onChoose }: { word: string; lit: boolean; onChoose: () => void }) {
  return (
    <button
      type="button"
      className={`block w-full truncate px-3 py-0.5 text-left text-[14px] ${lit ? "bg-leaf-wash font-bold" : "hover:bg-sunk"}`}
      aria-pressed={lit}
      onClick={onChoose}
    >
      {word}
    </button>
  );
}
