import type { Findings } from "../api/generated";
import { show } from "../model/numbers";
import { numberIn, type Row, unitOf } from "./sheet";

const WIDTH = 320;
const HEIGHT = 110;

interface Props {
  rows: Row[];
  findings: Findings;
  chosen: number | null;
  onChoose: (place: number) => void;
}

/** How far each measurement lies from the fit, as a share of where it may lie: between the lines it is inside. */
export function ResidualPlot({ rows, findings, chosen, onChoose }: Props) {
  const points = findings.residuals.flatMap((residual) => {
    const row = rows[residual.row];
    if (!row?.measured || residual.low === null || residual.high === null) return [];
    const half = (residual.high - residual.low) / 2 || 1;
    const off = Number(numberIn(row.measured)) - residual.expected;
    return [{ place: residual.row, share: off / half, off, row }];
  });
  if (!points.length) return null;
  const x = (index: number) => ((index + 0.5) / points.length) * WIDTH;
  const y = (share: number) => HEIGHT / 2 - (Math.max(-1.8, Math.min(1.8, share)) / 1.9) * (HEIGHT / 2);
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="group" aria-label="How far each measurement lies from the fit">
        <rect x="0" width={WIDTH} y={y(1)} height={y(-1) - y(1)} fill="var(--leaf-wash)" opacity="0.6" />
        <line x1="0" x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--soft)" strokeDasharray="3 3" />
        {points.map((point, index) => {
          const said = `Move ${point.place + 1}: ${point.off >= 0 ? "+" : ""}${show(point.off, unitOf(point.row), 2)}${point.row.kept_out ? ", kept out of the fit" : ""}`;
          const lit = chosen === point.place;
          return (
            <g key={point.place} onClick={() => onChoose(point.place)} className="cursor-pointer">
              <title>{said}</title>
              <line x1={x(index)} x2={x(index)} y1={y(0)} y2={y(point.share)} stroke="var(--rule)" />
              {point.row.kept_out ? (
                <rect x={x(index) - 4} y={y(point.share) - 4} width="8" height="8" fill="var(--sheet)" stroke={Math.abs(point.share) > 1 ? "var(--clay)" : "var(--ink)"} strokeWidth={lit ? 3 : 1.8} />
              ) : (
                <circle cx={x(index)} cy={y(point.share)} r={lit ? 5.5 : 4} fill={Math.abs(point.share) > 1 ? "var(--clay)" : "var(--reading)"} />
              )}
            </g>
          );
        })}
      </svg>
      <figcaption className="text-[12.5px] text-soft">Each measurement beside the fit of its kind. In the green band lie 95 of 100; squares were kept out of the fit.</figcaption>
    </figure>
  );
}
