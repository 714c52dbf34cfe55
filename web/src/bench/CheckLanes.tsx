import type { Verdict } from "../api/generated";
import { show } from "../model/numbers";
import { VerdictMark } from "../ui/VerdictMark";
import { Due, Windows } from "../ui/Windows";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useAxis, useSpan } from "./store";

interface Props {
  checks: Verdict[];
  chosen: string | null;
  onChoose: (title: string | null) => void;
}

/** A row for each check: the stretches it was tested in, and a pin where it was decided. */
export function CheckLanes({ checks, chosen, onChoose }: Props) {
  const { from, to } = useSpan();
  const { move } = useAxis.getState();
  const choose = (check: Verdict) => {
    onChoose(check.title);
    if (check.at !== null) move(check.at);
  };
  return (
    <div data-lane="checks">
      {checks.map((check) => (
        <div key={check.title} className={`flex h-[27px] border-b border-rule ${chosen === check.title ? "bg-sunk" : ""}`}>
          <button
            type="button"
            className="flex shrink-0 items-center gap-1.5 pr-1 pl-3 text-left text-[13px]"
            style={{ width: GUTTER + SCALE }}
            aria-pressed={chosen === check.title}
            title={`${check.title}: ${check.verdict}`}
            data-check={check.title}
            onClick={() => choose(check)}
            onMouseDown={(event) => event.stopPropagation()}
          >
            <VerdictMark verdict={check.verdict} size={14} />
            <span className="truncate">{check.title}</span>
            <span className="sr-only">{check.verdict}</span>
          </button>
          <div className="relative flex-1 overflow-hidden" style={{ marginRight: RIGHT }} data-windows={check.title}>
            <Windows check={check} from={from} to={to} className="top-[3px] h-[16px]" numbered />
            <Due check={check} from={from} to={to} className="top-[19px] h-[5px]" />
            {check.at !== null && check.at >= from && check.at <= to && check.verdict !== "pass" && (
              <button
                type="button"
                tabIndex={-1}
                aria-label={`${check.title} at ${show(check.at)} s`}
                className="absolute top-[5px] z-10 -translate-x-1/2"
                style={{ left: `${share(check.at, from, to) * 100}%` }}
                onClick={() => choose(check)}
                onMouseDown={(event) => event.stopPropagation()}
              >
                <VerdictMark verdict={check.verdict} size={17} />
              </button>
            )}
          </div>
        </div>
      ))}
    </div>
  );
}
