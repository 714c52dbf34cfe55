import { useMemo } from "react";

import type { Floor } from "../api/generated";
import { Outline } from "./FloorDrawing";
import { hueOf } from "./geometry";
import { isWorktop, planOf } from "./plan";
import { toScreen, type View } from "./view";

const WIDTH = 78;
const HEIGHT = 50;

/** A floor as a small sketch. */
export function Thumbnail({ floor }: { floor: Floor }) {
  const plan = useMemo(() => planOf(floor.source), [floor]);
  if (isWorktop(floor.source)) return <Bench />;
  const scale = Math.min((WIDTH - 4) / plan.size[0], (HEIGHT - 4) / plan.size[1]);
  const view: View = { scale, left: 2, bottom: 2 + plan.size[1] * scale, size: plan.size };
  const [right, top] = toScreen(view, plan.size);
  return (
    <svg width={WIDTH} height={HEIGHT} className="shrink-0" aria-hidden="true">
      <rect x="2" y={top} width={right - 2} height={view.bottom - top} fill="var(--paper)" stroke="var(--soft)" />
      {plan.surfaces.map((thing, index) => (
        <Outline key={index} thing={thing} view={view} fill="var(--rule)" stroke="none" />
      ))}
      {plan.tones.map((thing, index) => (
        <Outline key={index} thing={thing} view={view} fill="var(--soft)" stroke="none" />
      ))}
      {plan.paints.map((thing, index) => (
        <Outline key={index} thing={thing} view={view} fill={hueOf(thing.hue ?? 0)} stroke="none" />
      ))}
      {plan.obstacles.map((thing, index) => (
        <Outline key={index} thing={thing} view={view} fill="var(--ghost)" stroke="var(--ink)" width={0.6} />
      ))}
      {plan.walls.map(({ from, to }, index) => {
        const [x1, y1] = toScreen(view, from ?? [0, 0]);
        const [x2, y2] = toScreen(view, to ?? [0, 0]);
        return <line key={index} x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--ink)" strokeWidth="1.4" />;
      })}
    </svg>
  );
}

/** A worktop from the side, with something on it. */
function Bench() {
  return (
    <svg width={WIDTH} height={HEIGHT} className="shrink-0" aria-hidden="true">
      <rect x="8" y="34" width="62" height="5" fill="var(--rule)" stroke="var(--soft)" />
      <line x1="14" y1="39" x2="14" y2="48" stroke="var(--soft)" />
      <line x1="64" y1="39" x2="64" y2="48" stroke="var(--soft)" />
      <rect x="18" y="25" width="20" height="8" fill="var(--ghost)" stroke="var(--ink)" strokeWidth="0.8" />
      <path d="M28,4 v10 M21,24 v-10 h14 v10" fill="none" stroke="var(--ink)" strokeWidth="1.2" />
    </svg>
  );
}
