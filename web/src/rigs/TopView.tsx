import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { Kind } from "../api/generated";
import { show } from "../model/numbers";
import { cm, deg, type PartSource, type RigSource } from "./source";

interface Props {
  source: RigSource;
  kinds: Map<string, Kind>;
  chosen: string | null;
  /** Parts that something is wrong with. */
  wrong: Set<string>;
  onChoose: (name: string | null) => void;
  onMove: (name: string, ahead: number, left: number) => void;
  onTurn: (name: string, by: number) => void;
}

const ROOM = 7;

/** The robot from above, to scale, ahead is up: its body, its wheels, where each sensor sits and looks. */
export function TopView({ source, kinds, chosen, wrong, onChoose, onMove, onTurn }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const outline = source.body?.outline?.map(([ahead, left]) => ({ x: -cm(left, 0), y: -cm(ahead, 0) }));
  const radius = cm(source.body?.radius, 9);
  const drive = source.drive;
  const track = cm(drive?.track_width, 14);
  const diameter = cm(drive?.wheel_diameter, 6.5);
  const reach = Math.max(radius, track / 2 + 2, ...(outline ?? []).flatMap((point) => [Math.abs(point.x), Math.abs(point.y)]));
  const placed = Object.entries(source.parts).filter(([, part]) => kinds.get(part.kind)?.placed);
  const rails = placed.filter(([, part]) => hasRail(kinds.get(part.kind))).map(([name]) => name);
  const far = Math.max(reach, ...placed.map(([, part]) => Math.abs(cm(part.physics?.["ahead"], 0)) + 3)) + ROOM;
  const wide = far * 1.5;
  const start = useRef<{ x: number; y: number; ahead: number; left: number } | null>(null);

  const here = (event: PointerEvent) => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return { x: point.x, y: point.y };
  };
  const drag = (name: string, part: PartSource) => ({
    onPointerDown: (event: PointerEvent<SVGGElement>) => {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      onChoose(name);
      const { x, y } = here(event);
      start.current = { x, y, ahead: cm(part.physics?.["ahead"], 0), left: cm(part.physics?.["left"], 0) };
    },
    onPointerMove: (event: PointerEvent<SVGGElement>) => {
      const from = start.current;
      if (!from || !event.currentTarget.hasPointerCapture(event.pointerId)) return;
      const { x, y } = here(event);
      const step = event.altKey ? 0.1 : 0.5;
      const snap = (value: number) => Math.round(value / step) * step;
      onMove(name, snap(from.ahead - (y - from.y)), snap(from.left - (x - from.x)));
    },
    onPointerUp: () => (start.current = null),
  });
  const press = (name: string, part: PartSource) => (event: KeyboardEvent) => {
    const step = event.altKey ? 0.1 : event.shiftKey ? 5 : 1;
    const ahead = cm(part.physics?.["ahead"], 0);
    const left = cm(part.physics?.["left"], 0);
    const keys: Record<string, () => void> = {
      ArrowUp: () => onMove(name, ahead + step, left),
      ArrowDown: () => onMove(name, ahead - step, left),
      ArrowLeft: () => onMove(name, ahead, left + step),
      ArrowRight: () => onMove(name, ahead, left - step),
      r: () => onTurn(name, 5),
      R: () => onTurn(name, -5),
    };
    const act = keys[event.key];
    if (!act || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const grid = 5;
  const lines = Array.from({ length: 2 * Math.floor(wide / grid) + 1 }, (_, index) => (index - Math.floor(wide / grid)) * grid);
  return (
    <svg ref={svg} viewBox={`${-wide} ${-far} ${wide * 2} ${far * 2}`} className="h-full w-full touch-none" role="group" aria-label={`${source.name} from above, ahead is up`} onPointerDown={() => onChoose(null)}>
      <g stroke="var(--rule)" strokeWidth="0.06">
        {lines.map((at) => (
          <line key={`x${at}`} x1={at} x2={at} y1={-far} y2={far} />
        ))}
        {lines.filter((at) => Math.abs(at) <= far).map((at) => (
          <line key={`y${at}`} x1={-wide} x2={wide} y1={at} y2={at} />
        ))}
      </g>
      {drive &&
        [
          { name: drive.left, x: -track / 2 },
          { name: drive.right, x: track / 2 },
        ].map(({ name, x }) => (
          <g key={name} onPointerDown={(event) => { event.stopPropagation(); onChoose(name); }} className="cursor-pointer" data-part={name}>
            <rect x={x - 1.1} y={-diameter / 2} width="2.2" height={diameter} rx="0.7" fill={wrong.has(name) ? "var(--clay)" : "var(--output)"} opacity="0.85" stroke={chosen === name ? "var(--leaf)" : "none"} strokeWidth="0.6" />
            <Label x={x + (x < 0 ? -1.8 : 1.8)} y={0.6} anchor={x < 0 ? "end" : "start"} name={name} port={source.parts[name]?.port ?? ""} wrong={wrong.has(name)} chosen={chosen === name} far={far} />
          </g>
        ))}
      {outline && outline.length > 2 ? (
        <polygon points={outline.map((point) => `${point.x},${point.y}`).join(" ")} fill="var(--leaf-wash)" fillOpacity="0.7" stroke="var(--ink)" strokeWidth="0.22" />
      ) : (
        (drive ?? source.body) && <circle r={radius} fill="var(--leaf-wash)" fillOpacity="0.7" stroke="var(--ink)" strokeWidth="0.22" />
      )}
      {(drive ?? source.body) && <path d={`M-1 ${-0.2}h2M0 -1.2v2M0 ${-reach - 1.5}l-0.9 1.6h1.8z`} stroke="var(--soft)" strokeWidth="0.16" fill="var(--soft)" />}
      {placed.map(([name, part]) => {
        const kind = kinds.get(part.kind);
        const x = -cm(part.physics?.["left"], 0);
        const y = -cm(part.physics?.["ahead"], 0);
        const lit = chosen === name;
        const ink = wrong.has(name) ? "var(--clay)" : "var(--reading)";
        const rail = part.physics?.["rail"] as [string, string] | undefined;
        const isRail = hasRail(kind);
        return (
          <g
            key={name}
            tabIndex={0}
            role="button"
            aria-pressed={lit}
            aria-label={isRail ? `${name}, a rail on port ${part.port}` : `${name} on port ${part.port}, ${show(-y, "cm", 1)} ahead, ${show(-x, "cm", 1)} to the left`}
            className={isRail ? "cursor-pointer" : "cursor-move"}
            onKeyDown={isRail ? undefined : press(name, part)}
            onFocus={() => onChoose(name)}
            data-part={name}
            {...(isRail ? { onPointerDown: (event: PointerEvent) => { event.stopPropagation(); onChoose(name); } } : drag(name, part))}
          >
            {isRail ? (
              <Rail from={deg(rail?.[0], -75)} to={deg(rail?.[1], 75)} at={reach + 0.9 + (rails.indexOf(name) % 4) * 0.9} atLeft={rails.indexOf(name) % 2 === 1} ink={ink} lit={lit} name={name} port={part.port} wrong={wrong.has(name)} far={far} />
            ) : (
              <>
                {part.kind === "range" && <Wedge x={x} y={y} facing={deg(part.physics?.["facing"], 0)} cone={deg(part.physics?.["cone"], 20)} long={far * 0.55} ink={ink} />}
                {part.physics?.["facing"] !== undefined && part.kind !== "range" && <Wedge x={x} y={y} facing={deg(part.physics["facing"], 0)} cone={8} long={cm(part.physics["reach"], 4)} ink={ink} />}
                <circle cx={x} cy={y} r={part.physics?.["spot"] !== undefined ? Math.max(0.5, cm(part.physics["spot"], 0.8)) : 0.75} fill={ink} stroke={lit ? "var(--leaf)" : "var(--sheet)"} strokeWidth={lit ? 0.6 : 0.25} />
                <Label x={x + 1.2} y={y + 0.45} anchor="start" name={name} port={part.port} wrong={wrong.has(name)} chosen={lit} far={far} />
              </>
            )}
          </g>
        );
      })}
      <g transform={`translate(${wide - 12} ${far - 1.6})`}>
        <path d="M0 0h10M0 -0.6v1.2M10 -0.6v1.2" stroke="var(--ink)" strokeWidth="0.2" />
        <text x="5" y="-0.7" fontSize="1.3" textAnchor="middle" fill="var(--ink)">
          10 cm
        </text>
      </g>
    </svg>
  );
}

/** Whether a kind of part reaches along a stretch of the outline. */
function hasRail(kind: Kind | undefined): boolean {
  return kind?.fields_of.some((field) => field.key === "physics.rail") ?? false;
}

interface LabelProps {
  x: number;
  y: number;
  anchor: "start" | "end" | "middle";
  name: string;
  port: string;
  wrong: boolean;
  chosen: boolean;
  far: number;
}

function Label({ x, y, anchor, name, port, wrong, chosen, far }: LabelProps) {
  return (
    <text x={x} y={y} fontSize={far / 17} textAnchor={anchor} fill={wrong ? "var(--clay)" : "var(--ink)"} fontWeight={chosen ? 700 : 400} paintOrder="stroke" stroke="var(--paper)" strokeWidth={far / 90} className="select-none">
      {name}
      <tspan fill={wrong ? "var(--clay)" : "var(--soft)"} className="num" fontSize={far / 20}>
        {" "}
        {port}
        {wrong ? " !" : ""}
      </tspan>
    </text>
  );
}

function Wedge({ x, y, facing, cone, long, ink }: { x: number; y: number; facing: number; cone: number; long: number; ink: string }) {
  const end = (angle: number) => `${x - Math.sin((angle * Math.PI) / 180) * long} ${y - Math.cos((angle * Math.PI) / 180) * long}`;
  return <path d={`M${x} ${y}L${end(facing + cone / 2)}A${long} ${long} 0 0 1 ${end(facing - cone / 2)}Z`} fill={ink} opacity="0.2" className="pointer-events-none" />;
}

interface RailProps {
  from: number;
  to: number;
  at: number;
  atLeft: boolean;
  ink: string;
  lit: boolean;
  name: string;
  port: string;
  wrong: boolean;
  far: number;
}

function Rail({ from, to, at, atLeft, ink, lit, name, port, wrong, far }: RailProps) {
  const end = (angle: number) => `${-Math.sin((angle * Math.PI) / 180) * at} ${-Math.cos((angle * Math.PI) / 180) * at}`;
  // the labels of two rails, one around the other, stand at different ends
  const edge = atLeft ? to * 0.92 + from * 0.08 : from * 0.92 + to * 0.08;
  const aside = atLeft ? -0.8 : 0.8;
  return (
    <>
      <path d={`M${end(to)}A${at} ${at} 0 ${to - from > 180 ? 1 : 0} 1 ${end(from)}`} fill="none" stroke={lit ? "var(--leaf)" : ink} strokeWidth={lit ? 0.9 : 0.55} strokeLinecap="round" />
      <Label x={-Math.sin((edge * Math.PI) / 180) * at + aside} y={-Math.cos((edge * Math.PI) / 180) * at - 0.6} anchor={atLeft ? "end" : "start"} name={name} port={port} wrong={wrong} chosen={lit} far={far} />
    </>
  );
}
