import type { Live, Threshold } from "../api/generated";
import { said, seen } from "../live/said";
import { Thresholds } from "../live/Thresholds";
import { show } from "../model/numbers";

/** What comes now of the sensors that a program names: the value, how it behaves, and which thresholds hold already. */
export function LivePanel({ live, named, text, thresholds }: { live: Live | undefined; named: Set<string>; text: string; thresholds: Threshold[] }) {
  const readings = (live?.readings ?? []).filter((reading) => named.has(reading.name) || named.has(reading.name.split(".")[0] ?? ""));
  return (
    <section className="w-[224px] shrink-0 overflow-y-auto border-l border-rule px-3 py-2 text-[13px]" aria-label="Live readings">
      <h2 className="font-bold">Now</h2>
      <p className="text-soft">What the program would command is shown; nothing is sent to the robot.</p>
      {!readings.length && <p className="mt-2 text-soft">Nothing comes of the sensors that it names.</p>}
      <ul className="mt-1 divide-y divide-rule">
        {readings.map((reading) => (
          <li key={reading.name} className="py-1.5" data-live-reading={reading.name}>
            <div className="flex items-baseline gap-2">
              <span className="flex-1 font-bold">{reading.name}</span>
              <span className="num text-[15px]">{said(reading)}</span>
            </div>
            {reading.raw !== null && <p className="num text-soft">raw {show(reading.raw, "", 0)}</p>}
            {seen(reading, reading.least) && (
              <p className="num text-soft">
                {seen(reading, reading.least)} to {seen(reading, reading.greatest)}, noise {show(reading.noise, "", 2)}, absent {show(reading.absent * 100, "%", 0)}
              </p>
            )}
            <Thresholds text={text} thresholds={thresholds} reading={reading} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Whether something comes, how fast, and since when the program is played along. */
export function LiveState({ live, since }: { live: Live | undefined; since: number }) {
  const word = !live?.heard ? "nothing came yet" : live.connected ? "live" : `silent for ${show(live.silent_for ?? 0, "s", 0)}`;
  return (
    <span className="num text-[14px]" role="status" data-live={live?.connected ? "comes" : "silent"}>
      <b className={`font-sans ${live?.connected ? "text-leaf" : "text-clay"}`}>{word}</b>
      {live?.rate ? <span className="text-soft"> {show(live.rate, "Hz", 0)}, played for {show(Math.max(0, live.clock - since), "s", 0)}</span> : null}
    </span>
  );
}
