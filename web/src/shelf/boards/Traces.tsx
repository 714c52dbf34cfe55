import { Link, useNavigate } from "react-router";

import { answer, Problem } from "../../api/client";
import { recordingsCreate, recordingsList, rigsRetrieve, tracesDrawCreate, tracesDropDoubtfulCreate, tracesList, type RigName } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { show } from "../../model/numbers";
import { firstSketch } from "../../model/sketch";
import { importAddress } from "../../recordings/address";
import { Button } from "../../ui/Button";
import { UploadButton } from "../../ui/UploadButton";
import { Board } from "../Board";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { TraceLine } from "../TraceLine";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

const MOST_BYTES = 200_000_000;

async function sent(owner: RigName, files: File[]) {
  const tooLarge = files.find((file) => file.size >= MOST_BYTES);
  if (tooLarge) throw new Problem(0, "trace-too-large", `A recording has at most ${MOST_BYTES / 1e6} MB.`, "Record for a shorter time, or cut the file up.", tooLarge.name);
  const made = [];
  for (const file of files) made.push(await answer(recordingsCreate({ body: { rig: owner.id, file } })));
  return made;
}

/** Traces, and before them the files that are not imported yet. */
export function Traces({ find, narrowed, count, rig, rigOf, onTag, onTrash, onTrouble }: BoardProps) {
  const found = useRows("traces", tracesList, 5, find);
  const files = useRows("recordings", recordingsList, 5, find);
  const navigate = useNavigate();
  const send = useChange(({ owner, chosen }: { owner: RigName; chosen: File[] }) => sent(owner, chosen), "recordings", "shelf");
  const draw = useChange(
    async ({ id }: RigName) => {
      const source = firstSketch((await answer(rigsRetrieve({ path: { id } }))).parts) as unknown as Record<string, unknown>;
      return answer(tracesDrawCreate({ body: { rig: id, name: "Drawn trace", source } }));
    },
    "traces",
    "shelf",
  );
  const drop = useChange((id: number) => answer(tracesDropDoubtfulCreate({ path: { id } })), "traces", "lanes");
  const waiting = files.rows ?? [];
  return (
    <Board
      title="Traces"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="A trace is what a robot recorded: a table, a serial log, a dump of a logic analyser. Bring the file; Geduld says what it understood."
      add={
        rig && (
          <span className="flex gap-1.5">
            <Button small onClick={() => draw.mutate(rig, { onSuccess: (made) => void navigate(`/traces/${made.id}?tab=draw`), onError: onTrouble })}>
              Draw one
            </Button>
            <UploadButton multiple onFiles={(chosen) => send.mutate({ owner: rig, chosen }, { onSuccess: (made) => void navigate(importAddress(made)), onError: onTrouble })}>
              Import recordings
            </UploadButton>
          </span>
        )
      }
      before={
        waiting.length > 0 &&
        waiting.map((file) => (
          <li key={`file ${file.id}`} className="flex items-center gap-3 bg-ochre-wash px-4 py-2">
            <span className="num min-w-0 flex-1 truncate text-[14px]">{file.name}</span>
            <Link className="text-[14px] text-leaf underline underline-offset-2" to={`/recordings/${file.id}`} aria-label={`Look at it and import: ${file.name}`}>
              Look at it and import
            </Link>
            <RowMenu thing={{ kind: "recordings", id: file.id, name: file.name }} archived={file.archived} tags={file.tags} onTrash={onTrash} />
          </li>
        ))
      }
    >
      {(trace) => (
        <li key={trace.id} className="flex flex-wrap items-center gap-3 px-4 py-2">
          <div className="w-40 shrink-0">
            <Link className={`block truncate ${NAME}`} to={`/traces/${trace.id}`}>
              {trace.name}
            </Link>
            {rigOf(trace.rig) && <p className="truncate text-[13px] text-soft">{rigOf(trace.rig)}</p>}
            <p className="num text-[13px] text-soft">
              {show(trace.duration_us / 1e6, "s", 1)}, {show((trace.samples - 1) / (trace.duration_us / 1e6 || 1), "Hz", 0)}
            </p>
            <span className="flex flex-wrap gap-1">
              <Tags tags={trace.tags} archived={trace.archived} onTag={onTag} />
            </span>
          </div>
          <div className="min-w-0 flex-1">
            <TraceLine trace={trace} />
          </div>
          <RowMenu thing={{ kind: "traces", id: trace.id, name: trace.name }} archived={trace.archived} tags={trace.tags} onTrash={onTrash} />
          {trace.doubts.length > 0 && (
            <div className="w-full border-l-4 border-ochre pl-3 text-[14px]" data-doubts={trace.name}>
              {trace.doubts.map((doubt) => (
                <p key={doubt}>{doubt}</p>
              ))}
              <p className="mt-1 flex items-center gap-2">
                They are kept.{" "}
                <Button small onClick={() => drop.mutate(trace.id, { onError: onTrouble })}>
                  Drop them
                </Button>
              </p>
            </div>
          )}
        </li>
      )}
    </Board>
  );
}
