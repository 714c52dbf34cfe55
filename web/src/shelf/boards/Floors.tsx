import { Link, useNavigate } from "react-router";

import { answer } from "../../api/client";
import { floorsCreate, floorsList, type Floor } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { isWorktop, planOf } from "../../floors/plan";
import { Thumbnail } from "../../floors/Thumbnail";
import { show } from "../../model/numbers";
import { Button } from "../../ui/Button";
import { UploadButton } from "../../ui/UploadButton";
import { Board } from "../Board";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { parsed } from "../parsed";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

const EMPTY_FLOOR = {
  geduld: "floor/1",
  name: "New floor",
  size: ["300 cm", "200 cm"],
  surface: { name: "tiles" },
  start: { at: ["50 cm", "100 cm"], heading: "0 deg" },
};

const EMPTY_WORKTOP = { geduld: "floor/1", name: "New worktop" };

function sizeOf(floor: Floor): string {
  if (isWorktop(floor.source)) return "worktop";
  const [width, depth] = planOf(floor.source).size;
  return `${show(width)} x ${show(depth, "cm")}`;
}

export function Floors({ find, narrowed, count, onTag, onTrash, onTrouble }: BoardProps) {
  const found = useRows("floors", floorsList, 5, find);
  const navigate = useNavigate();
  const make = useChange((source: Floor["source"]) => answer(floorsCreate({ body: { source } })), "floors", "shelf");
  const bring = useChange(
    async (files: File[]) => {
      for (const file of files) await answer(floorsCreate({ body: { source: parsed(await file.text()) as Record<string, unknown> } }));
    },
    "floors",
    "shelf",
  );
  const begin = (source: Floor["source"]) => make.mutate(source, { onSuccess: (made) => void navigate(`/floors/${made.id}`), onError: onTrouble });
  return (
    <Board
      title="Floors"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="A floor is a simulated place: walls, obstacles, lamps, marks. Draw one."
      add={
        <span className="flex gap-1.5">
          <Button small onClick={() => begin(EMPTY_WORKTOP)}>
            New worktop
          </Button>
          <Button small onClick={() => begin(EMPTY_FLOOR)}>
            New floor
          </Button>
          <UploadButton accept=".json" multiple onFiles={(files) => bring.mutate(files, { onError: onTrouble })}>
            Import floors
          </UploadButton>
        </span>
      }
    >
      {(floor) => (
        <li key={floor.id} className="flex items-center gap-3 px-4 py-2">
          <Thumbnail floor={floor} />
          <span className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
            <Link className={NAME} to={`/floors/${floor.id}`}>
              {floor.name}
            </Link>
            <Tags tags={floor.tags} archived={floor.archived} onTag={onTag} />
          </span>
          <span className="num text-[13px] whitespace-nowrap text-soft">{sizeOf(floor)}</span>
          <RowMenu thing={{ kind: "floors", id: floor.id, name: floor.name }} archived={floor.archived} tags={floor.tags} onTrash={onTrash} />
        </li>
      )}
    </Board>
  );
}
