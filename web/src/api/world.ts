import type { BenchRequest, Doing } from "./generated";

/** What a program runs in: a trace or a floor, with what hands do there. `limit` is in s. */
export type World = Required<Pick<BenchRequest, "trace" | "follow" | "floor" | "start" | "seed" | "faults" | "limit" | "lasts" | "partner" | "delay" | "lost">> & { doings: Doing[] };
