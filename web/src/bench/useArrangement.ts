import { useCallback, useState } from "react";

/** How the lanes of one view are arranged: their order as far as it was chosen, those put away, and how high they are. */
export interface Arrangement {
  order: string[];
  hidden: string[];
  heights: Record<string, number>;
}

export const PLAIN: Arrangement = { order: [], hidden: [], heights: {} };

function kept(key: string): Arrangement {
  try {
    return { ...PLAIN, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as Partial<Arrangement>) };
  } catch {
    return PLAIN; // what another version has kept is no loss
  }
}

/** The arrangement of the lanes of one behaviour, exercise or hand-in, which the browser remembers. */
export function useArrangement(of: string) {
  const key = `lanes of ${of}`;
  const [arrangement, setArrangement] = useState(() => kept(key));
  const change = useCallback(
    (part: Partial<Arrangement>) =>
      setArrangement((before) => {
        const next = { ...before, ...part };
        localStorage.setItem(key, JSON.stringify(next));
        return next;
      }),
    [key],
  );
  return { arrangement, change };
}

/** Things in the chosen order: those that it does not name stay where they are behind the ones before them. */
export function inOrder<Item>(items: Item[], name: (item: Item) => string, order: string[]): Item[] {
  if (!order.length) return items;
  const place = new Map(order.map((item, index) => [item, index]));
  let last = -1;
  const ranked = items.map((item, index) => {
    last = place.get(name(item)) ?? last;
    return { item, rank: last, index };
  });
  return ranked.sort((a, b) => a.rank - b.rank || a.index - b.index).map(({ item }) => item);
}

/** The order in which one name stands before or behind its neighbour. */
export function movedBy(names: string[], name: string, by: -1 | 1): string[] {
  const at = names.indexOf(name);
  const to = at + by;
  if (at < 0 || to < 0 || to >= names.length) return names;
  const next = [...names];
  [next[at], next[to]] = [next[to]!, next[at]!];
  return next;
}
