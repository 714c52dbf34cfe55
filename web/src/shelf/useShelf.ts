import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { answer } from "../api/client";
import {
  behavioursDestroy,
  exercisesDestroy,
  floorsDestroy,
  inputsDestroy,
  recordingsDestroy,
  rigsDestroy,
  shelfPartialUpdate,
  shelfRetrieve,
  shelfUsedCreate,
  tracesDestroy,
  trashCreate,
  trashList,
  wordbooksDestroy,
  type ShelfItem,
  type ShelfKind,
} from "../api/generated";
import { useChange } from "../api/hooks";

/** Where a thing of a kind is looked at; inputs have no view of their own. */
export const VIEWS: Record<ShelfKind, string | null> = {
  exercises: "/exercises/",
  behaviours: "/bench/",
  rigs: "/rigs/",
  floors: "/floors/",
  traces: "/traces/",
  recordings: "/recordings/",
  wordbooks: "/wordbooks/",
  inputs: null,
};

/** A thing of a kind in words. */
export const WORDS: Record<ShelfKind, string> = {
  exercises: "exercise",
  behaviours: "behaviour",
  rigs: "rig",
  floors: "floor",
  traces: "trace",
  recordings: "file",
  wordbooks: "wordbook",
  inputs: "inputs",
};

const DESTROY = {
  exercises: exercisesDestroy,
  behaviours: behavioursDestroy,
  rigs: rigsDestroy,
  floors: floorsDestroy,
  traces: tracesDestroy,
  recordings: recordingsDestroy,
  wordbooks: wordbooksDestroy,
  inputs: inputsDestroy,
};

/** All lists that a change on the shelf can touch. */
const ALL = ["shelf", "trash", ...Object.keys(DESTROY)];

export type Thing = Pick<ShelfItem, "kind" | "id" | "name">;

/** The shelf as a whole: how much of what, the tags, what was opened last. */
export const useShelf = () => useQuery({ queryKey: ["shelf"], queryFn: ({ signal }) => answer(shelfRetrieve({ signal })) });
export const useTrash = () => useQuery({ queryKey: ["trash"], queryFn: ({ signal }) => answer(trashList({ signal })) });

/** Puts a thing into the trash. */
export const usePutInTrash = () => useChange(({ kind, id }: Thing) => answer<void>(DESTROY[kind]({ path: { id } })), ...ALL);

/** Takes a thing out of the trash, with what it needs. */
export const usePutBack = () => useChange(({ kind, id }: Thing) => answer(trashCreate({ path: { kind, id } })), ...ALL);

/** Puts a thing away or back, or gives it tags. */
export const useTidy = () =>
  useChange(({ kind, id, ...change }: Thing & { archived?: boolean; tags?: string[] }) => answer(shelfPartialUpdate({ path: { kind, id }, body: { archived: change.archived, tags: change.tags } })), ...ALL);

/** Notes that a thing was opened. Nothing waits for it, and nothing depends on it. */
export function useOpened(kind: ShelfKind, id: number) {
  const client = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: () => answer<void>(shelfUsedCreate({ path: { kind, id } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["shelf"] }),
  });
  useEffect(() => mutate(), [mutate, kind, id]);
}
