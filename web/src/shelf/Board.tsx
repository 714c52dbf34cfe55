import type { ReactNode } from "react";

import { Button } from "../ui/Button";

interface Props<Row> {
  title: string;
  /** How many there are in all; null where they are narrowed. */
  count: number | null;
  add?: ReactNode;
  empty: string;
  found: { rows: Row[] | undefined; hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };
  /** Whether only some are looked for: then a board without any is not shown. */
  narrowed: boolean;
  before?: ReactNode;
  children: (row: Row) => ReactNode;
}

/** One kind of thing on the shelf: the first few, and more when they are asked for. */
export function Board<Row>({ title, count, add, empty, found, narrowed, before, children }: Props<Row>) {
  const { rows } = found;
  if (narrowed && rows?.length === 0 && !before) return null;
  const more = found.hasNextPage;
  return (
    <section aria-label={title}>
      <div className="mb-1.5 flex items-center justify-between gap-3">
        <h2 className="text-lg font-bold">
          {title}
          {count !== null && count > 0 && <span className="num ml-2 text-[14px] font-normal text-soft">{count.toLocaleString("en-GB")}</span>}
        </h2>
        {add}
      </div>
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet">
        {before}
        {rows?.map(children)}
        {rows?.length === 0 && !before && <li className="px-4 py-3 text-soft">{empty}</li>}
        {!rows && <li className="px-4 py-3 text-soft">Opening …</li>}
        {more && (
          <li className="px-4 py-1.5">
            <Button small disabled={found.isFetchingNextPage} aria-label={`More ${title.toLowerCase()}`} onClick={() => found.fetchNextPage()}>
              {found.isFetchingNextPage ? "Fetching …" : "More"}
            </Button>
            {count !== null && (
              <span className="num ml-3 text-[13px] text-soft">
                {rows?.length} of {count.toLocaleString("en-GB")}
              </span>
            )}
          </li>
        )}
      </ul>
    </section>
  );
}
