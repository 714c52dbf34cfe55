import { inputsList } from "../../api/generated";
import { touched } from "../../model/hands";
import { Board } from "../Board";
import { BrokenThing } from "../BrokenThing";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { useRows } from "../useRows";
import type { BoardProps } from "./props";

/** What hands did in tests; it is chosen on the bench, and so has no view of its own. */
export function InputsBoard({ find, narrowed, count, onTag, onTrash }: BoardProps) {
  const found = useRows("inputs", inputsList, 5, find);
  return (
    <Board title="Inputs" count={count} found={found} narrowed={narrowed} empty="What hands did in a test on the bench can be kept and used again.">
      {(item) => (
        <li key={item.id} className="flex items-center gap-3 px-4 py-2">
          <div className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
            <p className="font-bold">{item.name}</p>
            <Tags tags={item.tags} archived={item.archived} onTag={onTag} />
            {item.broken && <BrokenThing why={item.broken} />}
          </div>
          <span className="truncate text-[13px] text-soft">{touched(item.doings).join(", ")}</span>
          <RowMenu thing={{ kind: "inputs", id: item.id, name: item.name }} archived={item.archived} tags={item.tags} onTrash={onTrash} />
        </li>
      )}
    </Board>
  );
}
