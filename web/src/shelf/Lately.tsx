import { Link } from "react-router";

import type { ShelfItem } from "../api/generated";
import { VIEWS, WORDS } from "./useShelf";

/** What was opened last, to go on there. */
export function Lately({ items }: { items: ShelfItem[] }) {
  const shown = items.filter((item) => VIEWS[item.kind] !== null);
  if (!shown.length) return null;
  return (
    <nav aria-label="Opened last" className="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[14px]">
      <span className="text-soft">Opened last</span>
      {shown.map((item) => (
        <span key={`${item.kind} ${item.id}`}>
          <span className="text-[12px] text-soft">{WORDS[item.kind]}</span>{" "}
          <Link className="text-leaf underline-offset-4 hover:underline" to={`${VIEWS[item.kind] ?? "/"}${item.id}`}>
            {item.name}
          </Link>
        </span>
      ))}
    </nav>
  );
}
