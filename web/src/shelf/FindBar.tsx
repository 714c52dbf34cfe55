import { Link } from "react-router";

import type { Shelf } from "../api/generated";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { type Find, narrows, ORDERS, type Order } from "./find";

const MOST_TAGS = 14;

/** What is looked for: words, a tag, the archive; in which order; and the way to the trash. */
export function FindBar({ find, shelf, onFind }: { find: Find; shelf: Shelf | undefined; onFind: (change: Partial<Find>) => void }) {
  const tags = shelf?.tags ?? [];
  const archived = shelf?.kinds.reduce((sum, kind) => sum + kind.archived, 0) ?? 0;
  return (
    <search className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2 rounded border border-rule bg-sunk px-3 py-2">
      <input
        type="search"
        className="min-w-52 flex-1 rounded border border-rule bg-sheet px-2.5 py-1.5"
        aria-label="Find on the shelf"
        placeholder="Find by name, tag, rig or words in the text"
        value={find.search}
        maxLength={100}
        onChange={(event) => onFind({ search: event.target.value })}
      />
      <Choice label="Order" value={find.sort} options={[...ORDERS]} onChange={(sort) => onFind({ sort: sort as Order })} />
      {(archived > 0 || find.archived === "yes") && (
        <Button small active={find.archived === "yes"} aria-pressed={find.archived === "yes"} onClick={() => onFind({ archived: find.archived === "yes" ? "no" : "yes" })}>
          Archive ({archived})
        </Button>
      )}
      <Link className="text-[14px] text-leaf underline underline-offset-2" to="/trash">
        Trash{shelf && shelf.trashed > 0 && ` (${shelf.trashed})`}
      </Link>
      {narrows(find) && (
        <Button small onClick={() => onFind({ search: "", tag: "", archived: "no" })}>
          Show all
        </Button>
      )}
      {tags.length > 0 && (
        <div className="flex basis-full flex-wrap items-center gap-1.5" role="group" aria-label="Tags">
          {tags.slice(0, MOST_TAGS).map(({ tag, count }) => (
            <Button key={tag} small active={find.tag === tag} aria-pressed={find.tag === tag} onClick={() => onFind({ tag: find.tag === tag ? "" : tag })}>
              {tag} <span className="num text-soft">{count}</span>
            </Button>
          ))}
        </div>
      )}
    </search>
  );
}
