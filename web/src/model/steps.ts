/** A program's lines as steps: what is done to one is done to the lines that belong to it, and nothing else changes. */

export interface Row {
  /** Counts from 1. */
  line: number;
  level: number;
  text: string;
  off: boolean;
  /** Whether it is a step, which can be moved and switched off; names, sections and comments are not. */
  step: boolean;
}

/** A text after a change, and the line on which the step stands now. */
export interface Changed {
  text: string;
  line: number;
}

const INDENT = 4;
const OFF = "# off: ";
const GOES_ON = /^(else|unless)\b/;

function indentOf(line: string): number {
  return line.length - line.trimStart().length;
}

function isBlank(line: string | undefined): boolean {
  return line === undefined || line.trim() === "";
}

/** What stands on a line, switched off or not. */
function words(line: string): string {
  const text = line.trim();
  return text.startsWith(OFF) ? text.slice(OFF.length) : text;
}

function opens(line: string): boolean {
  return words(line).replace(/\s#.*$/, "").endsWith(":");
}

/** The rows of a program, blank lines left out. */
export function rowsOf(text: string): Row[] {
  return text.split("\n").flatMap((source, index) => {
    if (isBlank(source)) return [];
    const said = words(source);
    const off = source.trim().startsWith(OFF);
    const level = Math.floor(indentOf(source) / INDENT);
    return [{ line: index + 1, level, text: said, off, step: level > 0 && !said.startsWith("#") && !GOES_ON.test(said) && !/^otherwise\b/.test(said) }];
  });
}

/** Where the lines of a step end: those below it that stand further in, and the `else` and `unless` that go on with it. */
function endOf(lines: string[], start: number): number {
  const own = indentOf(lines[start] ?? "");
  let end = start + 1;
  for (let index = start + 1; index < lines.length; index++) {
    const line = lines[index] ?? "";
    if (isBlank(line)) continue;
    if (indentOf(line) <= own && !(indentOf(line) === own && GOES_ON.test(words(line)))) break;
    end = index + 1;
  }
  return end;
}

/** The step in front of a line on its own level, in the same block; -1 where there is none. */
function before(lines: string[], start: number): number {
  const own = indentOf(lines[start] ?? "");
  for (let index = start - 1; index >= 0; index--) {
    const line = lines[index] ?? "";
    if (isBlank(line) || indentOf(line) > own) continue;
    if (indentOf(line) < own) return -1;
    if (!GOES_ON.test(words(line))) return index;
  }
  return -1;
}

/** The line that opens the block in which a line stands; -1 at the left margin. */
function above(lines: string[], start: number): number {
  const own = indentOf(lines[start] ?? "");
  for (let index = start - 1; index >= 0; index--) if (!isBlank(lines[index]) && indentOf(lines[index] ?? "") < own) return index;
  return -1;
}

function shifted(lines: string[], by: number): string[] {
  return lines.map((line) => (isBlank(line) ? line : by > 0 ? " ".repeat(by) + line : line.slice(Math.min(-by, indentOf(line)))));
}

/** Takes a step past its neighbour in the same block; as it was where there is none. */
export function moveStep(text: string, line: number, by: -1 | 1): Changed {
  const lines = text.split("\n");
  const start = line - 1;
  const end = endOf(lines, start);
  if (by < 0) {
    const first = before(lines, start);
    if (first < 0) return { text, line };
    const next = [...lines.slice(0, first), ...lines.slice(start, end), ...lines.slice(first, start), ...lines.slice(end)];
    return { text: next.join("\n"), line: first + 1 };
  }
  let second = end;
  while (second < lines.length && isBlank(lines[second])) second++;
  if (second >= lines.length || indentOf(lines[second] ?? "") !== indentOf(lines[start] ?? "") || indentOf(lines[start] ?? "") === 0) return { text, line };
  const last = endOf(lines, second);
  const next = [...lines.slice(0, start), ...lines.slice(end, last), ...lines.slice(start, end), ...lines.slice(last)];
  return { text: next.join("\n"), line: start + 1 + (last - end) };
}

/** Puts a step at the end of the block of the step in front of it, where that has one. */
export function stepIn(text: string, line: number): Changed {
  const lines = text.split("\n");
  const start = line - 1;
  const first = before(lines, start);
  const opener = first < 0 ? -1 : lines.findLastIndex((item, index) => index >= first && index < start && indentOf(item) === indentOf(lines[start] ?? "") && opens(item));
  if (opener < 0) return { text, line };
  const end = endOf(lines, start);
  const next = [...lines.slice(0, start), ...shifted(lines.slice(start, end), INDENT), ...lines.slice(end)];
  return { text: next.join("\n"), line };
}

/** Takes a step out of its block: it stands behind the step that the block belongs to. */
export function stepOut(text: string, line: number): Changed {
  const lines = text.split("\n");
  const start = line - 1;
  const parent = above(lines, start);
  if (parent < 0 || indentOf(lines[parent] ?? "") === 0) return { text, line };
  const end = endOf(lines, start);
  let owner = parent; // an else or unless goes on with the step it stands under
  while (GOES_ON.test(words(lines[owner] ?? ""))) owner = before([...lines.slice(0, owner + 1)], owner);
  const close = endOf(lines, owner);
  const next = [...lines.slice(0, start), ...lines.slice(end, close), ...shifted(lines.slice(start, end), -INDENT), ...lines.slice(close)];
  return { text: next.join("\n"), line: close - (end - start) + 1 };
}

/** Switches a step off, so that it is a comment, or on again. */
export function switchStep(text: string, line: number): Changed {
  const lines = text.split("\n");
  const start = line - 1;
  const off = (lines[start] ?? "").trim().startsWith(OFF);
  const end = endOf(lines, start);
  const next = lines.map((item, index) => {
    if (index < start || index >= end || isBlank(item)) return item;
    const indent = " ".repeat(indentOf(item));
    if (off) return item.trim().startsWith(OFF) ? indent + item.trim().slice(OFF.length) : item;
    return `${indent}${OFF}${item.trim()}`;
  });
  return { text: next.join("\n"), line };
}

/** Writes a step a second time, below it. */
export function copyStep(text: string, line: number): Changed {
  const lines = text.split("\n");
  const end = endOf(lines, line - 1);
  return { text: [...lines.slice(0, end), ...lines.slice(line - 1, end), ...lines.slice(end)].join("\n"), line: end + 1 };
}

/** Takes a step away. */
export function dropStep(text: string, line: number): Changed {
  const lines = text.split("\n");
  const end = endOf(lines, line - 1);
  return { text: [...lines.slice(0, line - 1), ...lines.slice(end)].join("\n"), line: Math.max(1, line - 1) };
}

/** Where a new step is written below a line: behind which line, and how far in. */
export function placeBelow(text: string, line: number): { after: number; indent: number } {
  const lines = text.split("\n");
  let at = Math.min(line, lines.length) - 1;
  while (at > 0 && isBlank(lines[at])) at--;
  const here = lines[at] ?? "";
  const begin = lines.findIndex((item) => /^begin\b/.test(item));
  if (indentOf(here) === 0 && !opens(here) && begin >= 0) return { after: begin + 1, indent: INDENT };
  return opens(here) ? { after: at + 1, indent: indentOf(here) + INDENT } : { after: at + 1, indent: indentOf(here) };
}
