import type { Lane, Part, PartnerRun } from "../api/generated";
import { show } from "../model/numbers";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { SignalLane } from "./SignalLane";
import { useAxis, useSpan } from "./store";

/** What the other device did, on the same time axis: its readings, what it sent, and its outputs. */
export function PartnerLanes({ partner, width }: { partner: PartnerRun; width: number }) {
  const { from, to } = useSpan();
  const { move } = useAxis.getState();
  const sent = partner.events.filter((event) => event.kind === "send" && event.at >= from && event.at <= to);
  return (
    <div data-partner={partner.rig}>
      <div className="flex h-[34px] border-b border-rule bg-sunk">
        <div className="flex shrink-0 flex-col justify-center pl-3 leading-tight" style={{ width: GUTTER + SCALE }}>
          <span className="truncate text-[14px] font-bold">{partner.rig}</span>
          <span className="text-[12px] text-soft">the other device; what it sent</span>
        </div>
        <div className="relative flex-1 overflow-hidden" style={{ marginRight: RIGHT }}>
          {sent.map((event, index) => (
            <button
              key={index}
              type="button"
              tabIndex={-1}
              className="absolute top-[6px] h-[21px] border-l-2 border-ink bg-sheet px-1 text-[12px] whitespace-nowrap"
              style={{ left: `${share(event.at, from, to) * 100}%` }}
              title={`Sent "${event.text}" at ${show(event.at)} s`}
              onClick={() => move(event.at)}
              onMouseDown={(pressed) => pressed.stopPropagation()}
            >
              {event.text}
            </button>
          ))}
        </div>
      </div>
      {[...partner.readings, ...partner.outputs].map((lane) => (
        <SignalLane key={lane.part} part={asPart(lane, partner)} lane={lane} width={width} height={40} control={partner.controls[lane.part]} />
      ))}
    </div>
  );
}

/** A lane of the other device, drawn as its own parts are. */
function asPart(lane: Lane, partner: PartnerRun): Part {
  const output = partner.outputs.includes(lane);
  const unit = partner.units[lane.part] ?? "";
  return { name: lane.part, kind: "other", role: output ? "output" : "sensor", port: "", unit, contact: !output && !unit, says: false, encoder: false, follows: "hand", axes: [], keys: [], turns: false, stops: null, raw: null, low: 0, high: 100 };
}
