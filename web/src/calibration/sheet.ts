/** One move of a sheet, as its document has it: texts with units. */
export interface Row {
  move: "straight" | "turn" | "pivot";
  by: "encoder" | "time";
  power: string;
  amount?: string;
  time?: string;
  measured?: string;
  sideways?: string;
  kept_out?: boolean;
}

export interface Sheet {
  geduld: "measurements/1";
  surface: string;
  battery?: string;
  rows: Row[];
}

export const EMPTY: Sheet = { geduld: "measurements/1", surface: "", rows: [] };

export const MOVES = [
  { value: "straight", label: "straight" },
  { value: "turn", label: "turn about the middle" },
  { value: "pivot", label: "turn about a wheel" },
];

/** The unit of what is measured of a move. */
export function unitOf(row: Row): string {
  return row.move === "straight" ? "cm" : "deg";
}

/** The number in a text such as `97.5 cm`; empty where there is none. */
export function numberIn(text: string | undefined): string {
  return text ? (/^-?[0-9.]+/.exec(text)?.[0] ?? "") : "";
}

/** A number that was typed, with its unit; undefined where nothing was. */
export function withUnit(typed: string, unit: string): string | undefined {
  const number = Number(typed.replace(",", "."));
  return typed.trim() === "" || !Number.isFinite(number) ? undefined : `${Math.round(number * 1000) / 1000} ${unit}`;
}

/** A usual set of moves: few enough for a lesson, far enough apart to tell things from each other. */
export function usualMoves(measured: boolean): Row[] {
  const rows: Row[] = [];
  if (measured) {
    for (const way of [50, 50, 100, 100, 150, 200]) rows.push({ move: "straight", by: "encoder", power: "40 %", amount: `${way} cm` });
    for (const angle of [90, 90, 180, 360, 720]) rows.push({ move: "turn", by: "encoder", power: "30 %", amount: `${angle} deg` });
  }
  for (const power of [20, 40, 60]) for (const time of [1, 2, 3]) rows.push({ move: "straight", by: "time", power: `${power} %`, time: `${time} s` });
  for (const power of [20, 40]) for (const time of [0.5, 1, 2]) rows.push({ move: "turn", by: "time", power: `${power} %`, time: `${time} s` });
  return rows;
}

/** A row whose move or ending was changed, with what it asks for in the right unit. */
export function reshaped(row: Row, changed: Partial<Row>): Row {
  const next = { ...row, ...changed };
  const turns = next.move !== "straight";
  const turned = turns !== (row.move !== "straight");
  if (turned) delete next.measured;
  if (turns) delete next.sideways;
  if (next.by === "time") {
    next.time ??= "2 s";
    delete next.amount;
  } else {
    const number = turned ? "" : numberIn(row.amount);
    next.amount = withUnit(number || (turns ? "90" : "100"), turns ? "deg" : "cm") ?? "";
    delete next.time;
  }
  return next;
}
