import type { Run } from "../api/generated";
import type { Point } from "../floors/geometry";
import { toScreen, type View } from "../floors/view";
import { show } from "../model/numbers";
import { framed, HEAD, palette } from "./paper";

/** A floor as it is drawn, with the way that was travelled, as an SVG. `drawn` are the elements that show the floor. */
export function floorPicture(title: string, drawn: SVGSVGElement[], view: View, run: Run | null, width: number, height: number): string {
  const colour = palette();
  const inner = drawn
    .map((element) => element.innerHTML)
    .join("")
    .replace(/var\(--([a-z-]+)\)/g, (_, name: string) => colour[name] ?? "#000")
    .replace(/class="num"/g, "");
  const ride = run?.ride;
  const points = ride ? ride.times.map((_, index) => toScreen(view, [ride.x[index] ?? 0, ride.y[index] ?? 0])) : [];
  const line = points.map(([x, y]: Point) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ");
  const first = points[0];
  const last = points.at(-1);
  const trail =
    first && last
      ? `<polyline points="${line}" fill="none" stroke="${colour["reading"]}" stroke-width="2"/><circle cx="${first[0]}" cy="${first[1]}" r="4" fill="none" stroke="${colour["reading"]}" stroke-width="2"/><path d="M${last[0] - 5} ${last[1] - 5}h10v10h-10z" fill="${colour["reading"]}"/>`
      : "";
  const contacts = (run?.events ?? [])
    .filter((event) => event.kind === "contact" && event.where)
    .map((event) => {
      const [x, y] = toScreen(view, [event.where?.[0] ?? 0, event.where?.[1] ?? 0]);
      return `<path d="M${x} ${y - 6}l6 6l-6 6l-6 -6z" fill="none" stroke="${colour["clay"]}" stroke-width="2"/>`;
    })
    .join("");
  const below = ride ? `Lengths in cm. Ring: start; square: end, at ${show(ride.times.at(-1) ?? 0, "s")}; diamonds: contacts.` : "Lengths in cm.";
  return framed(title, below, width, height + HEAD, `<g transform="translate(0 ${HEAD})">${inner}${trail}${contacts}</g>`, colour);
}
