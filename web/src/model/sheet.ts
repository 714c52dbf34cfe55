import type { SheetMark, SheetRow } from "../api/generated";

export const ALL = "all";

/** A row's marks over all cases, one for each check. */
export function totalsOf(row: SheetRow): SheetMark[] {
  return row.marks.filter((mark) => mark.case === ALL);
}

/** What Geduld does not read in the class's programs, each with the students who wrote it; the commonest first. */
export function unreadIn(rows: SheetRow[]): { what: string; students: string[] }[] {
  const found = new Map<string, string[]>();
  for (const row of rows) for (const what of row.unread) found.set(what, [...(found.get(what) ?? []), row.student]);
  return [...found].map(([what, students]) => ({ what, students })).sort((a, b) => b.students.length - a.students.length);
}

export type Order = string;

/** Rows in an order: `student` by name, `points` from the fewest on, or by how the check of that title went, the worst first. */
export function ordered(rows: SheetRow[], order: Order): SheetRow[] {
  const worst = ["not read", "fail", "part", "not certain", "not exercised", "pass"];
  const rank = (row: SheetRow) => {
    const mark = totalsOf(row).find((item) => item.check === order);
    return mark ? worst.indexOf(mark.verdict) * 1000 + mark.points : -1;
  };
  const by = {
    student: (a: SheetRow, b: SheetRow) => a.student.localeCompare(b.student),
    points: (a: SheetRow, b: SheetRow) => a.points - b.points,
  }[order] ?? ((a: SheetRow, b: SheetRow) => rank(a) - rank(b));
  return [...rows].sort((a, b) => by(a, b) || a.student.localeCompare(b.student));
}

export type Filter = "all" | "lost" | "problem" | "given" | `alike ${string}`;

/** How a row went, as one word: rows with the same one fail alike. Empty when nothing is lost. */
export function patternOf(row: SheetRow): string {
  if (!row.graded) return "";
  if (row.problem) return "problem";
  const marks = totalsOf(row);
  return marks.every((mark) => mark.verdict === "pass") ? "" : marks.map((mark) => mark.verdict).join(",");
}

/** The groups of at least two rows that fail alike, the largest first. */
export function alike(rows: SheetRow[]): { pattern: string; rows: SheetRow[] }[] {
  const groups = new Map<string, SheetRow[]>();
  for (const row of rows) {
    const pattern = patternOf(row);
    if (pattern) groups.set(pattern, [...(groups.get(pattern) ?? []), row]);
  }
  return [...groups]
    .map(([pattern, found]) => ({ pattern, rows: found }))
    .filter((group) => group.rows.length > 1)
    .sort((a, b) => b.rows.length - a.rows.length);
}

export function filtered(rows: SheetRow[], filter: Filter): SheetRow[] {
  switch (filter) {
    case "all":
      return rows;
    case "lost":
      return rows.filter((row) => row.graded && row.points < row.of);
    case "problem":
      return rows.filter((row) => row.problem !== "");
    case "given":
      return rows.filter((row) => Object.keys(row.given).length > 0);
    default:
      return rows.filter((row) => `alike ${patternOf(row)}` === filter);
  }
}

/** What a group that fails alike has in common, in words. */
export function wordsFor(group: { pattern: string; rows: SheetRow[] }): string {
  if (group.pattern === "problem") return "programs that could not be tried";
  const first = group.rows[0];
  const lost = first ? totalsOf(first).filter((mark) => mark.verdict !== "pass") : [];
  return lost.map((mark) => `${mark.check}: ${mark.verdict}`).join("; ");
}
