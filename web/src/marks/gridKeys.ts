import type { KeyboardEvent } from "react";

const MOVES: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };

/**
 * Arrow keys go from cell to cell of a table, Home and End to the ends of a row, and M presses the button that changes the mark of a cell.
 * Cells are the elements with `data-row` and `data-column`.
 */
export function gridKeys(event: KeyboardEvent<HTMLElement>): void {
  const target = event.target as HTMLElement;
  const here = target.closest<HTMLElement>("[data-row]") ?? target.closest("td")?.querySelector<HTMLElement>("[data-row]");
  if (!here || event.ctrlKey || event.altKey || event.metaKey) return;
  const row = Number(here.dataset.row);
  const column = Number(here.dataset.column);
  const find = (r: number, c: number) => event.currentTarget.querySelector<HTMLElement>(`[data-row="${r}"][data-column="${c}"]`);
  const move = MOVES[event.key];
  let next: HTMLElement | null | undefined;
  if (move) {
    next = find(row + move[0], column + move[1]);
    // a row that could not be tried is one wide cell
    if (!next && move[0]) next = find(row + move[0], 0);
  } else if (event.key === "Home") next = find(row, 0);
  else if (event.key === "End") next = [...event.currentTarget.querySelectorAll<HTMLElement>(`[data-row="${row}"]`)].at(-1);
  else if (event.key === "m") here.parentElement?.querySelector("button")?.click();
  else return;
  event.preventDefault();
  next?.focus();
}
