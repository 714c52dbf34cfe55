import type { Doing, Part } from "../api/generated";
import { touched } from "../model/hands";
import { show } from "../model/numbers";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useSpan } from "./store";

/** When hands did something: one row for all of them, a tick for each doing. */
export function InputsLane({ doings, parts }: { doings: Doing[]; parts: Part[] }) {
  const { from, to } = useSpan();
  if (!doings.length) return null;
  const owners = [...new Set(touched(doings).map((name) => name.split(".")[0] ?? name))];
  return (
    <div className="flex h-[40px] border-b border-rule" data-lane="inputs">
      <div className="flex shrink-0 flex-col justify-center overflow-hidden pr-2 pl-3" style={{ width: GUTTER }}>
        <span className="leading-tight font-bold">inputs</span>
        <span className="truncate text-[13px] leading-tight text-soft">{owners.join(", ")}</span>
      </div>
      <div className="relative flex-1 overflow-hidden" style={{ marginLeft: SCALE, marginRight: RIGHT }}>
        {doings.map((doing, index) => {
          const at = share(doing.at, from, to);
          if (at < 0 || at > 1) return null;
          return (
            <span
              key={index}
              className={`absolute top-[10px] h-[20px] border-l-2 pl-0.5 ${doing.name === "stop" ? "border-clay" : "border-ochre"}`}
              style={{ left: `${at * 100}%` }}
              title={`At ${show(doing.at, "s")}: ${said(doing, parts)}`}
            >
              <span className="block size-1.5 rotate-45 bg-ochre" style={doing.name === "stop" ? { background: "var(--clay)" } : undefined} />
            </span>
          );
        })}
      </div>
    </div>
  );
}

function said({ name, value }: Doing, parts: Part[]): string {
  if (name === "stop") return "everything is stopped";
  if (value === null) return `the hand lets go of ${name}`;
  const unit = parts.find((part) => part.name === name.split(".")[0])?.unit ?? "cm";
  return `${name} is ${typeof value === "number" ? show(value, unit) : `"${value}"`}`;
}
