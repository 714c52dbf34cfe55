import type { Sheet } from "../api/generated";
import { show, showPoints } from "../model/numbers";
import { totalsOf } from "../model/sheet";
import { framed, HEAD, palette, words } from "./paper";

const NAME = 190;
const CELL = 120;
const SUM = 90;
const ROW = 24;
const TOP = 44;
const LETTERS = 17; // of a check's title that fit a line

/** A mark sheet as an SVG: students by checks, verdict and points in each cell. */
export function sheetPicture(title: string, sheet: Sheet): string {
  const colour = palette();
  const ink = colour["ink"] ?? "#000";
  const soft = colour["soft"] ?? "#444";
  const graded = sheet.rows.filter((row) => row.graded);
  const checks = graded.slice(0, 1).flatMap(totalsOf);
  const width = 32 + NAME + checks.length * CELL + SUM;
  let y = HEAD + TOP;
  let body = "";
  checks.forEach((check, index) => {
    const x = 16 + NAME + index * CELL;
    const lines = wrapped(check.check);
    lines.forEach((line, place) => {
      body += words(line, { x, y: HEAD + 12 + place * 13, size: 11, bold: true, fill: ink });
    });
    body += words(showPoints(check.of), { x, y: HEAD + 12 + lines.length * 13, size: 10, fill: soft });
  });
  body += words("Points", { x: width - 16, y: HEAD + 12, size: 11, bold: true, anchor: "end", fill: ink });
  for (const row of sheet.rows) {
    body += `<line x1="16" x2="${width - 16}" y1="${y}" y2="${y}" stroke="${colour["rule"]}"/>`;
    body += words(row.student, { x: 16, y: y + 16, bold: true, fill: ink });
    if (row.graded && !row.problem) {
      const totals = totalsOf(row);
      totals.forEach((mark, index) => {
        const tone = mark.verdict === "fail" ? (colour["clay"] ?? ink) : mark.verdict === "pass" ? (colour["leaf"] ?? ink) : soft;
        body += words(`${mark.verdict} ${show(mark.points)}`, { x: 16 + NAME + index * CELL, y: y + 16, size: 11, fill: tone });
      });
      const sum = totals.reduce((all, mark) => all + mark.points, 0);
      const of = totals.reduce((all, mark) => all + mark.of, 0);
      body += words(`${show(sum)} of ${show(of)}`, { x: width - 16, y: y + 16, anchor: "end", bold: true, fill: ink });
    } else body += words(row.graded ? "could not be read" : "not graded", { x: 16 + NAME, y: y + 16, size: 11, fill: soft });
    y += ROW;
  }
  return framed(title, `${graded.length} of ${sheet.rows.length} hand-ins graded. In each cell the verdict and the points.`, Math.max(width, 420), y + 16, body, colour);
}

function wrapped(title: string): string[] {
  const lines = [""];
  for (const word of title.split(" ")) {
    const last = lines.at(-1) ?? "";
    if (last && last.length + word.length + 1 > LETTERS && lines.length < 2) lines.push(word);
    else lines[lines.length - 1] = last ? `${last} ${word}` : word;
  }
  return lines.map((line) => (line.length > LETTERS + 2 ? `${line.slice(0, LETTERS + 1)}…` : line));
}
