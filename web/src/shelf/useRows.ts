import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";

import { nextPage, type Answer, type Page } from "../api/client";
import type { ShelfKind } from "../api/generated";
import type { Find } from "./find";

const MORE = 24;

type List<Row> = (options: { query: Page & Partial<Find>; signal: AbortSignal }) => Promise<Answer<Row[]>>;

/** The rows of a kind that are looked for: the first few, and more when they are asked for. */
export function useRows<Row>(kind: ShelfKind, list: List<Row>, first: number, find: Find) {
  const start: Page = { limit: first, offset: 0 };
  const found = useInfiniteQuery({
    queryKey: [kind, "shelf", first, find],
    initialPageParam: start,
    queryFn: async ({ pageParam, signal }) => {
      const { data, response } = await list({ query: { ...pageParam, ...find }, signal });
      const next = nextPage(response);
      return { rows: data ?? [], next: next && { ...next, limit: MORE } };
    },
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
  });
  return { ...found, rows: found.data?.pages.flatMap((page) => page.rows) };
}
