import type { Finding } from "../api/generated";
import { show } from "../model/numbers";

interface Props {
  findings: Finding[];
  chosen: string[];
  onChoose: (words: string[]) => void;
}

/** What the sheet says, each with its interval drawn beside what the rig says now. */
export function FindingList({ findings, chosen, onChoose }: Props) {
  return (
    <ul className="space-y-2.5">
      {findings.map((finding) => (
        <li key={finding.word} className="border-b border-rule pb-2" data-finding={finding.word}>
          <div className="flex items-baseline gap-2">
            {finding.applicable ? (
              <label className="flex flex-1 items-baseline gap-2 font-bold">
                <input type="checkbox" checked={chosen.includes(finding.word)} onChange={(event) => onChoose(event.target.checked ? [...chosen, finding.word] : chosen.filter((word) => word !== finding.word))} />
                {finding.word}
              </label>
            ) : (
              <span className="flex-1 font-bold">{finding.word}</span>
            )}
            <span className="num font-bold">{show(finding.value, finding.unit, 2)}</span>
          </div>
          <Span finding={finding} />
          <p className="text-[13.5px] leading-snug">{finding.sentence}</p>
        </li>
      ))}
    </ul>
  );
}

const WIDTH = 300;

/** An interval as a bar, its value as a tick, and what the rig says now as a triangle. */
function Span({ finding }: { finding: Finding }) {
  const { value, low, high, rig_says, unit } = finding;
  if (low === null || high === null) return null;
  const ends = [low, high, ...(rig_says === null ? [] : [rig_says])];
  const room = (Math.max(...ends) - Math.min(...ends)) * 0.12 || 1;
  const from = Math.min(...ends) - room;
  const to = Math.max(...ends) + room;
  const x = (at: number) => ((at - from) / (to - from)) * WIDTH;
  const says = rig_says === null ? "" : `; the rig says ${show(rig_says, unit, 2)}`;
  return (
    <svg viewBox={`0 0 ${WIDTH} 26`} className="my-0.5 w-full max-w-[340px]" role="img" aria-label={`${show(low, unit, 2)} to ${show(high, unit, 2)}${says}`}>
      <line x1="0" x2={WIDTH} y1="9" y2="9" stroke="var(--rule)" />
      <rect x={x(low)} width={Math.max(2, x(high) - x(low))} y="5" height="8" rx="2" fill="var(--leaf)" opacity="0.45" />
      <line x1={x(value)} x2={x(value)} y1="2" y2="16" stroke="var(--leaf)" strokeWidth="2.5" />
      {rig_says !== null && (
        <>
          <path d={`M${x(rig_says)} 16l-4.5 8h9z`} fill="var(--ink)" />
          <text x={x(rig_says) + (x(rig_says) > WIDTH / 2 ? -9 : 9)} y="25" fontSize="10.5" fill="var(--soft)" textAnchor={x(rig_says) > WIDTH / 2 ? "end" : "start"}>
            the rig says
          </text>
        </>
      )}
    </svg>
  );
}
