import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, run } from "../api/client";
import { rigsLivePlayCreate, rigsLiveRetrieve } from "../api/generated";

const EVERY_MS = 200;

/** What comes from a rig's robot, five times a second. */
export const useLive = (rig: number, enabled = true) =>
  useQuery({ queryKey: ["live", rig], queryFn: ({ signal }) => answer(rigsLiveRetrieve({ path: { id: rig }, signal })), refetchInterval: EVERY_MS, retry: 3, enabled });

/** A text played along with what comes, since a reading of the feed's clock; null when nothing is played. */
export const usePlayed = (rig: number, text: string, since: number | null) =>
  useQuery({
    queryKey: ["played", rig, since, since !== null && text], // while nothing is played, each text would be a question of its own
    queryFn: ({ signal }) => run(() => rigsLivePlayCreate({ path: { id: rig }, body: { text, since: since ?? 0 }, signal }), signal),
    enabled: since !== null,
    refetchInterval: EVERY_MS,
    placeholderData: keepPreviousData,
    gcTime: 5_000,
    retry: false,
  });
