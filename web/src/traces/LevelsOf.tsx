import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";

import { answer } from "../api/client";
import { tracesLevelsRetrieve, type Levels, type Part } from "../api/generated";
import { show } from "../model/numbers";
import { Trouble } from "../ui/Trouble";

interface Props {
  trace: number;
  part: Part;
  /** The stretch that is looked at, in s. */
  from: number;
  to: number;
  /** What can be done with the threshold and its slack, in the part's unit. */
  children: (threshold: number, slack: number) => ReactNode;
}

/** The two levels of a reading, and the threshold and the slack that they suggest, with the histogram they come from. */
export function LevelsOf({ trace, part, from, to, children }: Props) {
  const levels = useQuery({
    queryKey: ["levels", trace, part.name, from, to],
    queryFn: ({ signal }) => answer(tracesLevelsRetrieve({ path: { id: trace }, query: { channel: part.name, from, to }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const found = levels.data;
  if (levels.error) return <Trouble error={levels.error} />;
  if (!found) return null;
  return (
    <>
      <Histogram levels={found} unit={part.unit} />
      <p>{found.because}</p>
      {found.threshold !== null && found.slack !== null && (
        <>
          <dl className="num grid grid-cols-[auto_1fr] gap-x-3" data-levels={part.name}>
            <dt className="font-sans text-soft">threshold</dt>
            <dd className="font-bold">{show(found.threshold, part.unit)}</dd>
            <dt className="font-sans text-soft">slack</dt>
            <dd className="font-bold">{show(found.slack, part.unit)}</dd>
            <dt className="font-sans text-soft">noise</dt>
            <dd>{show(found.noise, part.unit, 3)}</dd>
          </dl>
          {children(found.threshold, found.slack)}
        </>
      )}
    </>
  );
}

const WIDTH = 300;
const HEIGHT = 96;

function Histogram({ levels, unit }: { levels: Levels; unit: string }) {
  const most = Math.max(1, ...levels.counts);
  const low = levels.edges[0] ?? 0;
  const high = levels.edges.at(-1) ?? 1;
  const x = (value: number) => ((value - low) / (high - low || 1)) * WIDTH;
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT + 30}`} className="w-full" role="img" aria-label={`How often which reading came, from ${show(low, unit)} to ${show(high, unit)}`}>
        {levels.counts.map((count, index) => {
          // a root, so that rare readings are seen beside a level that holds for long
          const tall = Math.sqrt(count / most) * HEIGHT;
          return <rect key={index} x={x(levels.edges[index] ?? 0)} y={HEIGHT - tall} width={WIDTH / levels.counts.length - 0.5} height={tall} fill="var(--reading)" />;
        })}
        <line x1="0" x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--rule)" />
        {levels.threshold !== null && levels.slack !== null && (
          <>
            <rect x={x(levels.threshold - levels.slack / 2)} width={Math.max(1, x(levels.threshold + levels.slack / 2) - x(levels.threshold - levels.slack / 2))} y="0" height={HEIGHT} fill="var(--leaf)" opacity="0.22" />
            <line x1={x(levels.threshold)} x2={x(levels.threshold)} y1="0" y2={HEIGHT} stroke="var(--leaf)" strokeWidth="2" />
          </>
        )}
        {[levels.low, levels.high].map((level) => level !== null && <path key={level} d={`M${x(level)} ${HEIGHT + 2}l-4 7h8z`} fill="var(--ink)" />)}
        <text x="0" y={HEIGHT + 24} fontSize="11" fill="var(--soft)" className="num">
          {show(low, unit, 1)}
        </text>
        <text x={WIDTH} y={HEIGHT + 24} fontSize="11" fill="var(--soft)" textAnchor="end" className="num">
          {show(high, unit, 1)}
        </text>
      </svg>
      <figcaption className="text-[12.5px] text-soft">How often which reading came. Triangles are the two levels, the line is the threshold, the band its slack.</figcaption>
    </figure>
  );
}
