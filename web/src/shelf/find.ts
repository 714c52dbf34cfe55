import { useCallback, useEffect, useState } from "react";
import { useSearchParams } from "react-router";

import { useSettled } from "../ui/useSettled";

const SETTLES_MS = 120;

export const ORDERS = [
  { value: "changed", label: "changed last" },
  { value: "used", label: "opened last" },
  { value: "made", label: "made last" },
  { value: "name", label: "by name" },
] as const;

export type Order = (typeof ORDERS)[number]["value"];

/** What is looked for on the shelf. */
export interface Find {
  search: string;
  tag: string;
  sort: Order;
  archived: "yes" | "no";
}

const EVERYTHING: Find = { search: "", tag: "", sort: "changed", archived: "no" };

/** Whether anything narrows what is shown. */
export function narrows(find: Find): boolean {
  return find.search.trim() !== "" || find.tag !== "" || find.archived === "yes";
}

function findIn(params: URLSearchParams): Find {
  return {
    search: params.get("search") ?? "",
    tag: params.get("tag") ?? "",
    sort: ORDERS.find((order) => order.value === params.get("sort"))?.value ?? "changed",
    archived: params.get("archived") === "yes" ? "yes" : "no",
  };
}

/** What is looked for as it is typed, and as it is asked for once the typing rests; then it stands in the address too. */
export function useFind(): { find: Find; asked: Find; change: (part: Partial<Find>) => void } {
  const [params, setParams] = useSearchParams();
  const [find, setFind] = useState(() => findIn(params));
  const asked = useSettled(find, SETTLES_MS);
  useEffect(() => {
    const told = Object.entries(asked).filter(([name, value]) => value !== EVERYTHING[name as keyof Find]) as [string, string][];
    setParams(told, { replace: true });
  }, [asked, setParams]);
  const change = useCallback((part: Partial<Find>) => setFind((before) => ({ ...before, ...part })), []);
  return { find, asked, change };
}
