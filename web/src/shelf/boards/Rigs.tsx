import { Link } from "react-router";

import { answer } from "../../api/client";
import { rigsCreate, rigsList, rigsPartialUpdate } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { NewRig } from "../../rigs/NewRig";
import { UploadButton } from "../../ui/UploadButton";
import { Board } from "../Board";
import { BrokenThing } from "../BrokenThing";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { parsed } from "../parsed";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

export function Rigs({ find, narrowed, count, onTag, onTrash, onTrouble }: BoardProps) {
  const found = useRows("rigs", rigsList, 6, find);
  const bring = useChange(
    async (files: File[]) => {
      for (const file of files) await answer(rigsCreate({ body: { source: parsed(await file.text()) } }));
    },
    "rigs",
    "shelf",
  );
  const mend = useChange(
    async ({ id, files }: { id: number; files: File[] }) => answer(rigsPartialUpdate({ path: { id }, body: { source: parsed((await files[0]?.text()) ?? "") } })),
    "rigs", "traces", "inputs", "exercises", "lanes",
  );
  return (
    <Board
      title="Rigs"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="A rig says which part is on which port of the robot. Start from one of three, or import one."
      add={
        <span className="flex gap-1.5">
          <NewRig />
          <UploadButton accept=".json" onFiles={(files) => bring.mutate(files, { onError: onTrouble })}>
            Import rig
          </UploadButton>
        </span>
      }
    >
      {(rig) => (
        <li key={rig.id} className="px-4 py-2.5">
          <div className="flex items-center gap-2">
            <Link className={NAME} to={`/rigs/${rig.id}`}>
              {rig.name}
            </Link>
            <span className="flex min-w-0 flex-1 flex-wrap gap-1.5">
              <Tags tags={rig.tags} archived={rig.archived} onTag={onTag} />
            </span>
            <RowMenu thing={{ kind: "rigs", id: rig.id, name: rig.name }} archived={rig.archived} tags={rig.tags} onTrash={onTrash} />
          </div>
          {rig.broken ? (
            <BrokenThing why={rig.broken}>
              <UploadButton accept=".json" onFiles={(files) => mend.mutate({ id: rig.id, files }, { onError: onTrouble })}>
                Put a mended rig in its place
              </UploadButton>
            </BrokenThing>
          ) : (
            <p className="text-[14px] text-soft">{rig.parts.map((part) => part.name).join(", ")}</p>
          )}
        </li>
      )}
    </Board>
  );
}
