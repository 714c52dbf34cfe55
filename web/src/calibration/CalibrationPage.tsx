import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useFloors, useMeasurements, useRigs } from "../api/hooks";
import {
  measurementsApplyCreate,
  measurementsCreate,
  measurementsFindingsRetrieve,
  measurementsPartialUpdate,
  measurementsTapeCreate,
  type ApplyRequest,
  type Measurements,
  type Rig,
  type Said,
} from "../api/generated";
import { undoKeys } from "../saving/undoKeys";
import { useHistory } from "../saving/useHistory";
import { SavedWord } from "../saving/SavedWord";
import { useSaved } from "../saving/useSaved";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";
import { FindingList } from "./FindingList";
import { ResidualPlot } from "./ResidualPlot";
import { EMPTY, type Row, type Sheet, usualMoves } from "./sheet";
import { SheetTable } from "./SheetTable";

/** Calibration: a sheet for each surface, what was measured, what that says, and what to measure next. */
export function CalibrationPage() {
  const id = Number(useParams().id);
  const rigs = useRigs();
  const sheets = useMeasurements();
  const [chosen, setChosen] = useState<number | null>(null);
  const rig = rigs.data?.find((item) => item.id === id);
  const mine = (sheets.data ?? []).filter((item) => item.rig === id);
  const add = useChange(() => answer(measurementsCreate({ body: { rig: id, source: { ...EMPTY, surface: mine.length ? `surface ${mine.length + 1}` : "tiles" } } })), "measurements");
  const error = rigs.error ?? sheets.error ?? add.error;
  if (error) return <div className="p-6"><Trouble error={error} /></div>;
  if (!rigs.data || !sheets.data) return <p className="p-6">Opening the measurements …</p>;
  if (!rig) return <p className="p-6">There is no such rig.</p>;
  const sheet = mine.find((item) => item.id === chosen) ?? mine[0];
  const start = () => add.mutate(undefined, { onSuccess: (made) => setChosen(made.id) });
  if (!rig.has_drive)
    return <p className="p-6">{rig.name} has no wheels that drive it, so there is no way to measure. Its motors are described on <Link className="text-leaf underline" to={`/rigs/${rig.id}`}>its page</Link>.</p>;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-bold">
          Calibration of <Link className="text-leaf underline underline-offset-4" to={`/rigs/${rig.id}`}>{rig.name}</Link>
        </h1>
        {mine.length > 0 && (
          <Choice label="on" value={String(sheet?.id)} options={mine.map((item) => ({ value: String(item.id), label: (item.source as unknown as Sheet).surface || "a surface" }))} onChange={(key) => setChosen(Number(key))} />
        )}
        <Button small onClick={start}>
          Another surface
        </Button>
        <span className="text-[13.5px] text-soft">Let the robot make each move, lay the tape beside it, and write down what it made.</span>
      </div>
      {sheet ? <Open key={sheet.id} sheet={sheet} rig={rig} /> : <p className="p-6">Nothing is measured yet. <Button small strong onClick={start}>Start a sheet</Button></p>}
    </div>
  );
}

function Open({ sheet, rig }: { sheet: Measurements; rig: Rig }) {
  const client = useQueryClient();
  const floors = useFloors().data ?? [];
  const { saving, left, save, settled } = useSaved<{ source: Measurements["source"] }>(
    async ({ source }, startedFrom) => {
      const kept = await answer(measurementsPartialUpdate({ path: { id: sheet.id }, body: { source, started_from: startedFrom["source"] } }));
      for (const key of ["measurements", "findings"]) void client.invalidateQueries({ queryKey: [key] });
      return { source: kept.version };
    },
    { source: sheet.version },
    `sheet ${sheet.id}`,
  );
  const keep = useCallback((next: Sheet) => save({ source: next as unknown as Measurements["source"] }), [save]);
  const { value, change, undo, redo } = useHistory<Sheet>((left.source ?? sheet.source) as unknown as Sheet, keep);
  const [chosen, setChosen] = useState<number | null>(null);
  const [words, setWords] = useState<string[]>([]);
  const [said, setSaid] = useState<string[]>([]);
  const [floor, setFloor] = useState("");
  const findings = useQuery({ queryKey: ["findings", sheet.id], queryFn: ({ signal }) => answer(measurementsFindingsRetrieve({ path: { id: sheet.id }, signal })), retry: false });
  const tape = useChange(async (key: number) => {
    await settled();
    return answer(measurementsTapeCreate({ path: { id: sheet.id }, body: { floor: key, seed: 1 } }));
  });
  const apply = useChange(async () => {
    await settled();
    return answer(measurementsApplyCreate({ path: { id: sheet.id }, body: { words: words as ApplyRequest["words"] } }));
  }, "rigs", "findings");
  const put = (rows: Row[], gesture: string) => change({ ...value, rows }, gesture);
  const measure = () =>
    tape.mutate(Number(floor), {
      onSuccess: (made) => {
        setSaid(made.map((item) => item.said));
        // what touched something on the way is no measurement: it is kept, and kept out
        put(value.rows.map((row, place) => ({ ...row, ...tapedAs(made[place]) })), "tape");
      },
    });
  const found = findings.data;
  const following = found?.following;
  const board = chosen === null ? undefined : found?.board[chosen];
  return (
    <div className="flex min-h-0 flex-1" onKeyDown={undoKeys(undo, redo)}>
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Measurements">
        <div className="flex flex-wrap items-center gap-2 border-b border-rule px-4 py-1.5 text-[14px]">
          <label className="flex items-center gap-1.5 text-soft">
            Surface
            <input className="w-32 rounded border border-rule bg-sheet px-1.5 py-0.5 text-ink" value={value.surface} maxLength={100} onChange={(event) => change({ ...value, surface: event.target.value }, "surface")} />
          </label>
          <Button small onClick={() => put([...value.rows, { move: "straight", by: rig.drive_is_measured ? "encoder" : "time", power: "40 %", ...(rig.drive_is_measured ? { amount: "100 cm" } : { time: "2 s" }) }], "add")}>
            Add a move
          </Button>
          <Button small onClick={() => put([...value.rows, ...usualMoves(rig.drive_is_measured)], "plan")}>
            Plan a usual set
          </Button>
          <Button small disabled={!undo} onClick={undo} title="Ctrl+Z">
            Undo
          </Button>
          <span className="flex-1" />
          {floors.length > 0 && (
            <>
              <Choice label="For practice, measured by" value={floor} options={[{ value: "", label: "a floor …" }, ...floors.map((item) => ({ value: String(item.id), label: item.name }))]} onChange={setFloor} />
              <Button small disabled={!floor || !value.rows.length || tape.isPending} onClick={measure}>
                {tape.isPending ? "Measuring …" : "Measure"}
              </Button>
            </>
          )}
          <SavedWord saving={saving} />
        </div>
        <Trouble error={tape.error ?? findings.error} />
        <div className="min-h-0 flex-1 overflow-y-auto">
          <SheetTable rows={value.rows} findings={found} said={said} chosen={chosen} onChoose={setChosen} onChange={put} />
          {!value.rows.length && <p className="p-4 text-soft">Plan a usual set: about twenty moves, half an hour with a class. What the tape says goes into the table.</p>}
        </div>
        {board && (
          <div className="border-t border-rule bg-sheet px-4 py-2" aria-label="On the board">
            <h2 className="mb-0.5 text-[14px] font-bold">Move {(chosen ?? 0) + 1} on the board</h2>
            <ol className="num text-[13px] leading-[1.45]">
              {board.map((line, index) => (
                <li key={index}>{line}</li>
              ))}
            </ol>
          </div>
        )}
      </section>
      <aside className="flex w-[384px] shrink-0 flex-col border-l border-rule bg-sheet" aria-label="What it says">
        <div className="min-h-0 flex-1 space-y-3 overflow-y-auto px-4 py-2.5">
          <h2 className="font-bold">What the measurements say</h2>
          {found && found.findings.length > 0 ? <FindingList findings={found.findings} chosen={words} onChoose={setWords} /> : <p className="text-[14px] text-soft">Measured moves tell how wide the wheels and the track really are, how much is lost, and how sure that is.</p>}
          {found && <ResidualPlot rows={value.rows} findings={found} chosen={chosen} onChoose={setChosen} />}
          {following && (
            <p className="border-l-4 border-leaf pl-3 text-[14px]">
              {following.sentence}{" "}
              <button type="button" className="text-leaf underline underline-offset-2" onClick={() => put([...value.rows, following.row], "next")}>
                Plan it
              </button>
            </p>
          )}
        </div>
        <div className="space-y-1.5 border-t border-rule px-4 py-2">
          <Trouble error={apply.error} />
          {apply.data && <p role="status" className="text-[14px]">It stands in the rig, with today&rsquo;s date. What the rig was before is in its history.</p>}
          <Button strong disabled={!words.length || apply.isPending} onClick={() => apply.mutate(undefined, { onSuccess: () => setWords([]) })}>
            {words.length ? `Write ${words.length === 1 ? words[0] : `these ${words.length}`} into the rig` : "Choose what goes into the rig"}
          </Button>
        </div>
      </aside>
    </div>
  );
}

function tapedAs(made: Said | undefined): Partial<Row> {
  if (!made) return {};
  return { measured: made.measured, ...(made.sideways ? { sideways: made.sideways } : {}), ...(made.said ? { kept_out: true } : {}) };
}
