import type { Lane, Part, Run, Verdict } from "../api/generated";
import { niceStep, show, showSeconds, ticksBetween } from "../model/numbers";
import { isLively, pathOf, rangeOf } from "../model/signals";
import { framed, HEAD, palette, words } from "./paper";

export interface Drawn {
  part: Part;
  lane: Lane;
  ghost?: Lane;
  /** Values that the program compares it with, in its unit. */
  handles: number[];
}

interface Of {
  title: string;
  below: string;
  from: number;
  to: number;
  readings: Drawn[];
  outputs: Drawn[];
  run: Run | null;
  lines: string[];
  checks: Verdict[];
}

const WIDTH = 1000;
const LEFT = 150;
const RIGHT = 20;
const TALL = 74;
const LOW = 38;
const ROW = 26;

/** What the bench shows of a run, as an SVG with its title, its time axis and its units. */
export function lanesPicture({ title, below, from, to, readings, outputs, run, lines, checks }: Of): string {
  const colour = palette();
  const ink = (name: string) => colour[name] ?? "#000";
  const x = (at: number) => LEFT + ((at - from) / (to - from || 1)) * (WIDTH - LEFT - RIGHT);
  const clip = (at: number) => Math.min(WIDTH - RIGHT, Math.max(LEFT, x(at)));
  let y = HEAD;
  let body = "";
  const name = (text: string, unit: string, high: number) =>
    words(text, { x: 16, y: y + high / 2, bold: true, fill: ink("ink") }) + (unit ? words(unit, { x: 16, y: y + high / 2 + 15, size: 11, fill: ink("soft") }) : "");
  const step = niceStep(to - from, 10);
  for (const tick of ticksBetween(from, to, step)) body += words(`${showSeconds(tick, step)} s`, { x: x(tick), y: y + 10, size: 11, anchor: "middle", fill: ink("soft") });
  y += 16;
  const rule = () => `<line x1="16" x2="${WIDTH - RIGHT}" y1="${y}" y2="${y}" stroke="${ink("rule")}"/>`;

  const signal = ({ part, lane, ghost, handles }: Drawn, tone: string) => {
    body += rule();
    if (lane.texts) {
      body += name(part.name, "", LOW);
      lane.texts.forEach((text, index) => {
        const at = lane.times[index] ?? 0;
        if (text && at >= from && at <= to) body += words(text, { x: x(at) + 3, y: y + 23, fill: ink("text-token") });
      });
      y += LOW;
      return;
    }
    const high = part.contact ? LOW : TALL;
    const lanes = [lane, ...(ghost ? [ghost] : [])];
    const [least, most] = part.contact ? [-0.25, 1.25] : part.role === "output" ? rangeOf(lanes, lanes.some(isLively) ? [0] : [0, part.high ?? 100]) : rangeOf(lanes, handles);
    const place = (value: number) => y + 6 + (1 - (value - least) / (most - least)) * (high - 12);
    body += name(part.name, part.contact ? "" : `in ${part.unit}`, high);
    const ticks = part.contact ? [0, 1] : ticksBetween(least, most, niceStep(most - least, high / 26));
    for (const tick of ticks) {
      body += `<line x1="${LEFT}" x2="${WIDTH - RIGHT}" y1="${place(tick)}" y2="${place(tick)}" stroke="${ink("rule")}" stroke-dasharray="1 4"/>`;
      body += words(part.contact ? (tick ? "on" : "off") : show(tick), { x: LEFT - 6, y: place(tick) + 4, size: 10, anchor: "end", fill: ink("soft") });
    }
    if (ghost) body += `<path d="${pathOf(ghost, from, to, x, place)}" fill="none" stroke="${ink("ghost")}" stroke-width="4"/>`;
    body += `<path d="${pathOf(lane, from, to, x, place)}" fill="none" stroke="${tone}" stroke-width="1.6"/>`;
    for (const value of handles) {
      body += `<line x1="${LEFT}" x2="${WIDTH - RIGHT}" y1="${place(value)}" y2="${place(value)}" stroke="${ink("leaf")}" stroke-dasharray="4 3"/>`;
      body += words(show(value, part.unit, 1), { x: WIDTH - RIGHT, y: place(value) - 3, size: 11, anchor: "end", fill: ink("leaf") }).replace("<text", `<text stroke="${ink("paper")}" stroke-width="3" paint-order="stroke"`);
    }
    y += high;
  };
  readings.forEach((item) => signal(item, ink("reading")));
  for (const row of run ? new Set(["begin", ...run.program.map((bar) => bar.lane)]) : []) {
    body += rule() + words(row === "begin" ? "program" : row, { x: 16, y: y + ROW / 2 + 4, bold: true, fill: ink("ink") });
    for (const bar of run?.program ?? []) {
      if (bar.lane !== row || bar.to < from || bar.from > to) continue;
      const [left, right] = [clip(bar.from), clip(bar.to)];
      body += `<rect x="${left}" y="${y + 4}" width="${Math.max(1, right - left)}" height="${ROW - 8}" fill="${ink("sunk")}" stroke="${ink("soft")}" stroke-width="0.7"/>`;
      const text = bar.state === "many" ? `${bar.times} times` : `${bar.line} ${(lines[bar.line - 1] ?? "").trim()}`;
      const room = Math.floor((right - left - 6) / 6.2);
      if (room >= 2) body += words(text.length > room ? `${text.slice(0, room - 1)}…` : text, { x: left + 4, y: y + ROW / 2 + 4, size: 11, fill: ink("ink") });
    }
    y += ROW;
  }
  outputs.forEach((item) => signal(item, ink("output")));
  for (const check of checks) {
    body += rule() + words(`${check.verdict}: ${check.title}`, { x: 16, y: y + ROW / 2 + 4, fill: check.verdict === "fail" ? ink("clay") : ink("ink") });
    if (check.at !== null && check.verdict !== "pass" && check.at >= from && check.at <= to) body += `<path d="M${x(check.at)} ${y + 3}l7 10l-7 10l-7 -10z" fill="${ink("clay")}"/>`;
    y += ROW;
  }
  body += rule();
  return framed(title, below, WIDTH, y + 16, body, colour);
}
