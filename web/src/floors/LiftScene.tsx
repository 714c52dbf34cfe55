import { type ReactNode } from "react";

import { show } from "../model/numbers";

/** Where a load can lie: angles, in deg; null where any will do. */
export interface Rest {
  name: string;
  up: number;
  aside: number | null;
}

export interface LiftView {
  width: number;
  height: number;
  /** The least and the greatest angle across and upwards. */
  across: [number, number];
  upwards: [number, number];
}

const MARGIN = { left: 58, right: 52, top: 30, bottom: 54 };
export const TRAY = 42;
export const RAIL = MARGIN.top - 18;

/** Where an angle across is drawn. */
export function acrossAt({ width, across: [from, to] }: LiftView, angle: number): number {
  return MARGIN.left + ((angle - from) / (to - from || 1)) * (width - MARGIN.left - MARGIN.right);
}

/** Where an angle upwards is drawn. */
export function upAt({ height, upwards: [from, to] }: LiftView, angle: number): number {
  return height - MARGIN.bottom - ((angle - from) / (to - from || 1)) * (height - MARGIN.top - MARGIN.bottom);
}

/** A worktop from the side, with the places where a load can lie; `says` are the names of the motors across and upwards. */
export function LiftScene({ view, places, says, label, children }: { view: LiftView; places: Rest[]; says: [string, string]; label: string; children?: ReactNode }) {
  const { width, height, across, upwards } = view;
  const lowest = Math.min(...places.map((place) => place.up));
  const ground = upAt(view, lowest) + 8;
  const span = ([from, to]: [number, number]) => `${show(from, "", 0)} to ${show(to, "deg", 0)}`;
  return (
    <svg width={width} height={height} role="img" aria-label={label}>
      <rect x={18} y={ground} width={width - 32} height="7" fill="var(--rule)" stroke="var(--soft)" strokeWidth="0.8" />
      {places.map((place, index) => {
        const [x, y] = [acrossAt(view, place.aside ?? across[0]), upAt(view, place.up)];
        const raised = place.up > lowest;
        return (
          <g key={index}>
            {raised && (
              <>
                <rect x={x - 32} y={y + 8} width="64" height="5" fill="var(--rule)" stroke="var(--soft)" strokeWidth="0.8" />
                <line x1={x} y1={y + 13} x2={x} y2={ground} stroke="var(--soft)" strokeDasharray="2 3" />
              </>
            )}
            <text x={x} y={raised ? y + 27 : ground + 20} textAnchor="middle" fontSize="12" fill="var(--ink)">
              {place.name || "place"} <tspan fill="var(--soft)">{show(place.up, "deg", 0)}</tspan>
            </text>
          </g>
        );
      })}
      <line x1={18} y1={RAIL} x2={width - 14} y2={RAIL} stroke="var(--ink)" strokeWidth="3" />
      {children}
      <text x={18} y={height - 6} fontSize="11.5" fill="var(--soft)">
        {says[0] && `across: ${says[0]}, ${span(across)}; `}up: {says[1]}, {span(upwards)}
      </text>
    </svg>
  );
}

/** A load as it is drawn, by its middle. */
export function Tray({ x, y, name, held }: { x: number; y: number; name: string; held: boolean }) {
  return (
    <>
      <rect x={x - TRAY / 2} y={y - 6} width={TRAY} height="14" rx="2" fill={held ? "var(--leaf-wash)" : "var(--sheet)"} stroke={held ? "var(--leaf)" : "var(--ink)"} strokeWidth="1.8" />
      <text x={x} y={y + 5} textAnchor="middle" fontSize="11" fill="var(--ink)">
        {name}
      </text>
    </>
  );
}
