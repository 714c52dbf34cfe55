import type { HandIn } from "../api/generated";

export type Language = NonNullable<HandIn["language"]>;

/** What a language is called. */
export const LANGUAGE_WORDS: Record<Language, string> = { notation: "the notation", python: "Python", c: "C" };
