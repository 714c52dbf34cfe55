import type { Ride, Rig, Run } from "../api/generated";
import { colour } from "../app/theme";
import { hueOf, ofRobot, type Point, radians } from "../floors/geometry";
import { toScreen, type View } from "../floors/view";
import { indexAt } from "../model/signals";
import { type Pose, poseAt } from "./ride";

type Ink = CanvasRenderingContext2D;
/** What a sensor reads at an instant, in its own unit; null where it is absent. */
export type Reading = (part: string, at: number) => number | null;

/** Draws a ride up to an instant, and the robot as it stands then. */
export function paintRide(ink: Ink, view: View, rig: Rig, run: Run, at: number, reading: Reading): void {
  const { ride } = run;
  if (!ride) return;
  trail(ink, view, ride, at);
  for (const event of run.events) if (event.where) contact(ink, toScreen(view, event.where), event.kind, event.at <= at);
  const pose = poseAt(ride, at);
  for (const part of rig.parts) {
    if (part.kind === "range") beam(ink, view, rig, part.name, pose, reading(part.name, at), part.high ?? 200);
  }
  robot(ink, view, rig, pose, (part) => reading(part, at));
}

function trail(ink: Ink, view: View, ride: Ride, at: number): void {
  const now = Math.max(0, indexAt(ride.times, at));
  const draw = (from: number, to: number, last?: Point) => {
    ink.beginPath();
    for (let index = from; index <= to; index++) ink.lineTo(...toScreen(view, [ride.x[index] ?? 0, ride.y[index] ?? 0]));
    if (last) ink.lineTo(...toScreen(view, last));
    ink.stroke();
  };
  ink.lineJoin = "round";
  ink.strokeStyle = colour("ghost");
  ink.lineWidth = 1.2;
  ink.setLineDash([3, 4]);
  draw(now, ride.times.length - 1);
  ink.setLineDash([]);
  ink.strokeStyle = colour("leaf");
  ink.lineWidth = 2.2;
  draw(0, now, poseAt(ride, at).at);
}

/** A contact is a diamond, a stall a square: filled once they have happened. */
function contact(ink: Ink, [x, y]: Point, kind: string, happened: boolean): void {
  ink.beginPath();
  if (kind === "stall") ink.rect(x - 5, y - 5, 10, 10);
  else for (const [dx, dy] of [[0, -7], [7, 0], [0, 7], [-7, 0]] as const) ink.lineTo(x + dx, y + dy);
  ink.closePath();
  ink.strokeStyle = colour("clay");
  ink.fillStyle = happened ? colour("clay") : colour("sheet");
  ink.lineWidth = 1.5;
  ink.fill();
  ink.stroke();
}

/** What a range sensor looks over: its cone, out to what it measures; hollow without an echo. */
function beam(ink: Ink, view: View, rig: Rig, part: string, pose: Pose, distance: number | null, most: number): void {
  const mount = rig.shape.mounts[part];
  if (!mount) return;
  const [x, y] = toScreen(view, ofRobot(mount.ahead, mount.left, pose.at, pose.heading));
  const middle = -radians(pose.heading + (mount.facing ?? 0));
  const half = Math.max(0.02, radians(mount.cone) / 2);
  const unit = rig.parts.find((item) => item.name === part)?.unit;
  const reach = (distance ?? most) * (unit === "mm" ? 0.1 : unit === "m" ? 100 : unit === "inch" ? 2.54 : 1) * view.scale;
  ink.save();
  ink.beginPath();
  ink.rect(view.left, view.bottom - view.size[1] * view.scale, view.size[0] * view.scale, view.size[1] * view.scale);
  ink.clip();
  ink.beginPath();
  ink.moveTo(x, y);
  ink.arc(x, y, reach, middle - half, middle + half);
  ink.closePath();
  ink.strokeStyle = colour("reading");
  ink.lineWidth = 1;
  if (distance === null) ink.setLineDash([2, 5]);
  else {
    ink.globalAlpha = 0.16;
    ink.fillStyle = colour("reading");
    ink.fill();
    ink.globalAlpha = 1;
  }
  ink.stroke();
  ink.restore();
}

function robot(ink: Ink, view: View, rig: Rig, pose: Pose, reading: (part: string) => number | null): void {
  const { outline, radius, wheel_diameter, track_width, mounts } = rig.shape;
  const [x, y] = toScreen(view, pose.at);
  ink.save();
  ink.translate(x, y);
  ink.rotate(-radians(pose.heading));
  ink.scale(view.scale, -view.scale);
  const line = 1 / view.scale;
  if (wheel_diameter && track_width) {
    ink.fillStyle = colour("ink");
    for (const side of [1, -1]) ink.fillRect(-wheel_diameter / 2, (side * track_width) / 2 - 1.2, wheel_diameter, 2.4);
  }
  ink.beginPath();
  if (outline.length) outline.forEach((corner) => ink.lineTo(...corner));
  else ink.arc(0, 0, radius, 0, 2 * Math.PI);
  ink.closePath();
  ink.fillStyle = colour("sheet");
  ink.globalAlpha = 0.88;
  ink.fill();
  ink.globalAlpha = 1;
  ink.strokeStyle = colour("ink");
  ink.lineWidth = 1.6 * line;
  ink.stroke();
  const front = outline.length ? Math.max(...outline.map(([ahead]) => ahead)) : radius;
  ink.beginPath();
  ink.moveTo(front - 1.2, 0);
  ink.lineTo(front * 0.35, front * 0.42);
  ink.lineTo(front * 0.35, -front * 0.42);
  ink.closePath();
  ink.fillStyle = colour("leaf");
  ink.fill();
  for (const part of rig.parts) {
    const mount = mounts[part.name];
    if (mount && part.kind === "tone") probe(ink, mount, greyOf(reading(part.name)), line);
    if (mount && part.kind === "colour") probe(ink, mount, paintOf(reading(part.name)), line);
    if (mount && part.kind === "bump") rail(ink, outline, radius, mount.rail, reading(part.name) === 1, line);
  }
  ink.restore();
}

function greyOf(tone: number | null): string {
  const level = Math.round(((tone ?? 50) / 100) * 255);
  return `rgb(${level} ${level} ${level})`;
}

function paintOf(hue: number | null): string | null {
  return hue === null ? null : hueOf(hue);
}

/** What a ground probe sees: a spot in that tone or paint, empty where it sees none. */
function probe(ink: Ink, { ahead, left, spot }: { ahead: number; left: number; spot: number }, fill: string | null, line: number): void {
  ink.beginPath();
  ink.arc(ahead, left, Math.max(spot, 1.2), 0, 2 * Math.PI);
  if (fill) {
    ink.fillStyle = fill;
    ink.fill();
  }
  ink.strokeStyle = colour("ochre");
  ink.lineWidth = 1.6 * line;
  ink.stroke();
}

/** The part of the outline that a bump switch guards: thin, and thick while it is pressed. */
function rail(ink: Ink, outline: Point[], radius: number, [from, to]: [number, number], pressed: boolean, line: number): void {
  ink.beginPath();
  for (let step = 0; step <= 24; step++) {
    const bearing = radians(from + ((to - from) * step) / 24);
    const reach = outline.length ? edgeAt(outline, bearing) : radius;
    ink.lineTo(Math.cos(bearing) * (reach + 1), Math.sin(bearing) * (reach + 1));
  }
  ink.strokeStyle = pressed ? colour("clay") : colour("ink");
  ink.lineWidth = (pressed ? 4 : 1.2) * line;
  ink.stroke();
}

/** How far a convex outline reaches at a bearing from the middle of the axle. */
function edgeAt(outline: Point[], bearing: number): number {
  const dx = Math.cos(bearing);
  const dy = Math.sin(bearing);
  let found = 0;
  outline.forEach(([ax, ay], index) => {
    const [bx, by] = outline[(index + 1) % outline.length] ?? [0, 0];
    const across = dx * (by - ay) - dy * (bx - ax);
    if (Math.abs(across) < 1e-9) return;
    const distance = (ax * (by - ay) - ay * (bx - ax)) / across;
    const share = (ax * dy - ay * dx) / across;
    if (distance > 0 && share >= -1e-9 && share <= 1 + 1e-9) found = Math.max(found, distance);
  });
  return found;
}
