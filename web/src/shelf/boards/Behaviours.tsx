import { Link, useNavigate } from "react-router";

import { answer } from "../../api/client";
import { behavioursCreate, behavioursList, type RigName } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { counted, showDay } from "../../model/numbers";
import { Button } from "../../ui/Button";
import { Board } from "../Board";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { FIRST_TEXT } from "../firstTexts";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

const LIBRARY = /^(\s*#.*\n|\s)*library\b/;

export function Behaviours({ find, narrowed, count, rig, rigOf, onTag, onTrash, onTrouble }: BoardProps) {
  const found = useRows("behaviours", behavioursList, 10, find);
  const navigate = useNavigate();
  const make = useChange(
    (owner: RigName) => answer(behavioursCreate({ body: { rig: owner.id, title: "New behaviour", text: FIRST_TEXT("New behaviour", owner.name) } })),
    "behaviours",
    "shelf",
  );
  return (
    <Board
      title="Behaviours"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="A behaviour says what the robot should do. Start one."
      add={
        rig && (
          <Button small onClick={() => make.mutate(rig, { onSuccess: (made) => void navigate(`/bench/${made.id}`), onError: onTrouble })}>
            New behaviour
          </Button>
        )
      }
    >
      {(behaviour) => (
        <li key={behaviour.id} className="flex items-center gap-3 px-4 py-2">
          <span className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
            <Link className={NAME} to={`/bench/${behaviour.id}`}>
              {behaviour.title}
            </Link>
            {LIBRARY.test(behaviour.text) && <span className="rounded border border-rule bg-sunk px-1.5 text-[12px]">library</span>}
            <Tags tags={behaviour.tags} archived={behaviour.archived} onTag={onTag} />
          </span>
          {rigOf(behaviour.rig) && <span className="text-[13px] text-soft">{rigOf(behaviour.rig)}</span>}
          <span className="num text-[13px] whitespace-nowrap text-soft">{counted(behaviour.text.trimEnd().split("\n").length, "line")}</span>
          <span className="text-[13px] whitespace-nowrap text-soft">{showDay(behaviour.updated)}</span>
          <RowMenu thing={{ kind: "behaviours", id: behaviour.id, name: behaviour.title }} archived={behaviour.archived} tags={behaviour.tags} onTrash={onTrash} />
        </li>
      )}
    </Board>
  );
}
