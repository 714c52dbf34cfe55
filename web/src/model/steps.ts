/**
 * A program's lines as steps, or a text of checks as checks: what is done to one is done to the lines that belong to
 * it and to the comments above it, and nothing else changes.
 */

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

function isCheck(line: string): boolean {
  return indentOf(line) === 0 && /^check\b/.test(words(line));
}

/** Whether it is a comment, and not something that is switched off. */
function isComment(line: string | undefined): boolean {
  const text = line?.trim() ?? "";
  return text.startsWith("#") && !text.startsWith(OFF);
}

function opens(line: string): boolean {
  return words(line).replace(/\s#.*$/, "").endsWith(":");
}

/** The rows of a text, blank lines left out. */
export function rowsOf(text: string): Row[] {
  const lines = text.split("\n");
  const ofChecks = lines.some(isCheck);
  return lines.flatMap((source, index) => {
    if (isBlank(source)) return [];
    const said = words(source);
    const off = source.trim().startsWith(OFF);
    const level = Math.floor(indentOf(source) / INDENT);
    const step = ofChecks ? isCheck(source) : level > 0 && !said.startsWith("#") && !GOES_ON.test(said) && !/^otherwise\b/.test(said);
    return [{ line: index + 1, level, text: said, off, step }];
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

/** Where the comments above a step begin. */
function topOf(lines: string[], start: number): number {
  let top = start;
  while (isComment(lines[top - 1]) && indentOf(lines[top - 1] ?? "") === indentOf(lines[start] ?? "")) top--;
  return top;
}

/** The step in front of a line on its own level, in the same block; -1 where there is none. */
function before(lines: string[], start: number): number {
  const own = indentOf(lines[start] ?? "");
  for (let index = start - 1; index >= 0; index--) {
    const line = lines[index] ?? "";
    if (isBlank(line) || indentOf(line) > own) continue;
    if (indentOf(line) < own) return -1;
    if (!GOES_ON.test(words(line)) && !isComment(line)) return index;
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
  const own = indentOf(lines[line - 1] ?? "");
  const [first, second] = by < 0 ? [before(lines, line - 1), line - 1] : [line - 1, next(lines, line - 1)];
  const [upper, lower] = [lines[first], lines[second]];
  if (upper === undefined || lower === undefined || (own === 0 && !(isCheck(upper) && isCheck(lower)))) return { text, line };
  const [top, end, begin, close] = [topOf(lines, first), endOf(lines, first), topOf(lines, second), endOf(lines, second)];
  // what stands between the two stays between them
  const swapped = [...lines.slice(0, top), ...lines.slice(begin, close), ...lines.slice(end, begin), ...lines.slice(top, end), ...lines.slice(close)];
  const moved = by < 0 ? top + (second - begin) : top + (close - begin) + (begin - end) + (first - top);
  return { text: swapped.join("\n"), line: moved + 1 };
}

/** The step behind the lines of a step, in the same block; -1 where there is none. */
function next(lines: string[], start: number): number {
  let at = endOf(lines, start);
  while (isBlank(lines[at]) || isComment(lines[at])) if (++at >= lines.length) return -1;
  return indentOf(lines[at] ?? "") === indentOf(lines[start] ?? "") ? at : -1;
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

/** Writes a step a second time, below it; a check's title says that it is another. */
export function copyStep(text: string, line: number): Changed {
  const lines = text.split("\n");
  const end = endOf(lines, line - 1);
  const copy = lines.slice(line - 1, end);
  if (!isCheck(copy[0] ?? "")) return { text: [...lines.slice(0, end), ...copy, ...lines.slice(end)].join("\n"), line: end + 1 };
  copy[0] = anotherTitle(copy[0] ?? "", text);
  return { text: [...lines.slice(0, end), "", ...copy, ...lines.slice(end)].join("\n"), line: end + 2 };
}

/** A check's first line, with a title that no other check of the text has. */
function anotherTitle(line: string, text: string): string {
  const title = /"([^"]*)"/.exec(line)?.[1]?.replace(/ \(\d+\)$/, "") ?? "";
  let number = 2;
  while (text.includes(`"${title} (${number})"`)) number += 1;
  return line.replace(/"[^"]*"/, () => `"${title} (${number})"`);
}

/** Takes a step away, and the comments above it. */
export function dropStep(text: string, line: number): Changed {
  const lines = text.split("\n");
  const top = topOf(lines, line - 1);
  let end = endOf(lines, line - 1);
  if (isCheck(lines[line - 1] ?? "")) while (end < lines.length - 1 && isBlank(lines[end])) end++;
  return { text: [...lines.slice(0, top), ...lines.slice(end)].join("\n"), line: Math.max(1, top) };
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
