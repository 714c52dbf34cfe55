import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { answer } from "../api/client";
import { useChange, useRecordings, useRigs } from "../api/hooks";
import { recordingsDestroy, recordingsImportCreate, recordingsUnderstoodCreate, type Layout, type RecipeDocument, type RecordingFile } from "../api/generated";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { importAddress } from "./address";
import { ColumnsTable } from "./ColumnsTable";
import { FileLines } from "./FileLines";
import { LayoutForm } from "./LayoutForm";
import { Outcome } from "./Outcome";
import { TimeForm } from "./TimeForm";

/** What is asked about a file: how a recipe reads it, how one layout does, or what Geduld finds out. */
interface Question {
  recipe: RecipeDocument | null;
  layout: Layout | null;
  anew: boolean;
}

const FIRST: Question = { recipe: null, layout: null, anew: false };
const ONLY_NAME = /\.(csv|txt|tsv|log|json|jsonl|ndjson|vcd|dat)?(\.gz)?$/i;

/** A file that is to become a trace: what it was understood as, and one screen to correct that. */
export function ImportPage() {
  const id = Number(useParams().id);
  const [query] = useSearchParams();
  const files = useRecordings();
  const file = files.data?.find((item) => item.id === id);
  if (files.error) return <div className="p-6"><Trouble error={files.error} /></div>;
  if (!files.data) return <p className="p-6">Opening the file …</p>;
  if (!file) return <p className="p-6">This file is imported already, or was put aside. <Link className="text-leaf underline" to="/">To the shelf</Link></p>;
  // the files that were sent together with this one
  const sent = (query.get("with") ?? "").split(",").map(Number);
  return <Open key={file.id} file={file} waiting={files.data.filter((item) => sent.includes(item.id) && item.rig === file.rig && item.id !== file.id)} />;
}

function Open({ file, waiting }: { file: RecordingFile; waiting: RecordingFile[] }) {
  const navigate = useNavigate();
  const rig = useRigs().data?.find((item) => item.id === file.rig);
  const [question, setQuestion] = useState<Question>(FIRST);
  const [name, setName] = useState(file.name.replace(ONLY_NAME, ""));
  const understood = useQuery({
    queryKey: ["understood", file.id, question],
    queryFn: ({ signal }) => answer(recordingsUnderstoodCreate({ path: { id: file.id }, body: question, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const found = understood.data;
  const bring = useChange(
    async (recipe: RecipeDocument) => answer(recordingsImportCreate({ path: { id: file.id }, body: { recipe, name } })),
    "traces", "recordings",
  );
  const bringAll = useChange(async (recipe: RecipeDocument) => {
    const first = await answer(recordingsImportCreate({ path: { id: file.id }, body: { recipe, name } }));
    for (const other of waiting) {
      const told = await answer(recordingsUnderstoodCreate({ path: { id: other.id }, body: FIRST }));
      if (told.problem || told.bad_count) return importAddress([other, ...waiting.filter((item) => item.id !== other.id)]);
      await answer(recordingsImportCreate({ path: { id: other.id }, body: { recipe: told.recipe, name: other.name.replace(ONLY_NAME, "") } }));
    }
    return `/traces/${first.id}`;
  }, "traces", "recordings");
  const aside = useChange(() => answer<void>(recordingsDestroy({ path: { id: file.id } })), "recordings");
  const next = (after: string) => void navigate(waiting[0] ? importAddress(waiting) : after, { replace: true });
  const ask = (recipe: RecipeDocument) => setQuestion({ recipe, layout: null, anew: false });
  const working = bring.isPending || bringAll.isPending;

  return (
    <div className="mx-auto max-w-[1240px] px-6 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-xl font-bold">What a robot recorded</h1>
        <span className="num text-soft">
          {file.name}, {size(file.size)}
        </span>
        <span className="flex-1" />
        <label className="flex items-center gap-1.5 text-[14px] text-soft">
          as the trace
          <input className="w-44 rounded border border-rule bg-sheet px-2 py-1 text-ink" value={name} maxLength={100} onChange={(event) => setName(event.target.value)} />
        </label>
        <Button small onClick={() => aside.mutate(undefined, { onSuccess: () => next("/") })}>
          Put the file aside
        </Button>
        {waiting.length > 0 && (
          <Button small disabled={!found || found.problem !== null || working} onClick={() => found && bringAll.mutate(found.recipe, { onSuccess: (to) => void navigate(to, { replace: true }) })}>
            Import all {waiting.length + 1} like this
          </Button>
        )}
        <Button strong disabled={!found || found.problem !== null || working} onClick={() => found && bring.mutate(found.recipe, { onSuccess: (trace) => next(`/traces/${trace.id}`) })}>
          Import
        </Button>
      </div>
      <p className="mt-1 max-w-[900px]" role="status">
        {found ? found.said : "Looking at the file …"}{" "}
        {found?.remembered && (
          <>
            <b>Read as you chose for an earlier file.</b>{" "}
            <button type="button" className="text-leaf underline underline-offset-2" onClick={() => setQuestion({ ...FIRST, anew: true })}>
              Find it out anew
            </button>
          </>
        )}
      </p>
      <div className="mt-2 space-y-2">
        <Trouble error={understood.error ?? bring.error ?? bringAll.error ?? aside.error} />
      </div>
      {found && (
        <div className={`mt-2 grid grid-cols-1 gap-x-6 gap-y-4 lg:grid-cols-[minmax(0,0.8fr)_minmax(0,1.2fr)] ${understood.isPlaceholderData ? "opacity-60" : ""}`}>
          <section aria-label="The file" className="min-w-0 space-y-2">
            <h2 className="font-bold">The file</h2>
            {found.lines.length > 0 ? <FileLines lines={found.lines} /> : <p className="text-soft">It says itself what stands in it; the rig&rsquo;s lines and drivers give the rest.</p>}
            {found.lines.length > 0 && <LayoutForm layout={found.recipe.layout} lines={found.lines.length} onChange={(layout) => setQuestion({ recipe: null, layout, anew: false })} />}
          </section>
          <section aria-label="Its columns" className="min-w-0 space-y-2">
            <h2 className="font-bold">Its columns{rig && <span className="font-normal text-soft">, as parts of {rig.name}</span>}</h2>
            {found.columns.length > 0 && (
              <>
                <TimeForm time={found.recipe.time} columns={found.columns} because={found.time_because} onChange={(time) => ask({ ...found.recipe, time })} />
                <ColumnsTable columns={found.columns} offers={found.offers} recipe={found.recipe} onChange={(columns) => ask({ ...found.recipe, columns })} />
              </>
            )}
            {found.recipe.layout.form !== "table" && found.columns.length > 0 && (
              <label className="flex items-center gap-1.5 text-[14px]">
                <input type="checkbox" checked={found.recipe.missing === "hold"} onChange={(event) => ask({ ...found.recipe, missing: event.target.checked ? "hold" : "absent" })} />
                A value that a line does not say stays as it was
              </label>
            )}
          </section>
          <section aria-label="What it becomes" className="min-w-0 lg:col-span-2">
            <h2 className="mb-1 font-bold">What it becomes</h2>
            <Outcome found={found} onBadRows={(bad_rows) => ask({ ...found.recipe, bad_rows })} />
          </section>
        </div>
      )}
    </div>
  );
}

function size(bytes: number): string {
  return bytes < 10_000 ? `${bytes.toLocaleString("en-GB")} bytes` : bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
