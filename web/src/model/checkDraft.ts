/** A check that is being written: its sentence, and what stands in the slots of it. */

export interface Piece {
  /** What is written, or what a slot is filled with at first. */
  text: string;
  /** Which slot it is, counting from 0; null for words that stay. */
  slot: number | null;
}

/** The lines of a sentence as words and slots. */
export function piecesOf(insert: string): Piece[][] {
  let slots = 0;
  return insert.split("\n").map((line) =>
    line.split(/(\$\{\d+:[^}]*\})/).flatMap((part): Piece[] => {
      const filled = /^\$\{\d+:([^}]*)\}$/.exec(part)?.[1];
      if (filled !== undefined) return [{ text: filled, slot: slots++ }];
      return part ? [{ text: part, slot: null }] : [];
    }),
  );
}

/** What the slots of a sentence are filled with at first. */
export function firstFillings(insert: string): string[] {
  return piecesOf(insert).flat().flatMap((piece) => (piece.slot === null ? [] : [piece.text]));
}

/** A sentence with its slots filled. */
export function sentenceWith(insert: string, fillings: string[]): string {
  return piecesOf(insert)
    .map((line) => line.map((piece) => (piece.slot === null ? piece.text : (fillings[piece.slot] ?? piece.text))).join(""))
    .join("\n");
}

const LONGEST = 60;

/** A title that a sentence suggests, which no other check of the text has. */
export function titleFor(sentence: string, checks: string): string {
  const said = (sentence.split("\n")[0] ?? "").replaceAll('"', "").replace(/:$/, "");
  const whole = said.length > LONGEST ? `${said.slice(0, LONGEST - 1).trimEnd()}…` : said;
  const title = whole.slice(0, 1).toUpperCase() + whole.slice(1);
  const taken = new Set([...checks.matchAll(/^check "([^"]*)"/gm)].map((found) => found[1]));
  if (!taken.has(title)) return title;
  let number = 2;
  while (taken.has(`${title} (${number})`)) number += 1;
  return `${title} (${number})`;
}

/** A whole check as text. */
export function checkText(title: string, points: string, sentence: string): string {
  return `check "${title.replaceAll('"', "'")}", ${points.trim() || "1"} points:\n    ${sentence.replaceAll("\n", "\n    ")}\n`;
}

/** The values that a text of checks names, which a check of it can use. */
export function namesOf(checks: string): string {
  return checks
    .split("\n")
    .filter((line) => line.startsWith("let "))
    .join("\n");
}
