import { type ReactNode, useState } from "react";
import { useNavigate } from "react-router";

import { answer } from "../api/client";
import { useChange } from "../api/hooks";
import { tracesMakeCreate, type MakeRequest, type Part, type Trace } from "../api/generated";
import { useAxis } from "../bench/store";
import { NumberField } from "../ui/NumberField";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/Trouble";

interface Props {
  trace: Trace;
  others: Trace[];
  parts: Part[];
}

/** New traces from this one, which itself stays as it is; and files to take away. */
export function MakePane({ trace, others, parts }: Props) {
  const navigate = useNavigate();
  const { selected, cursor, from, to } = useAxis();
  const [by, setBy] = useState(0);
  const [other, setOther] = useState("");
  const [channel, setChannel] = useState("");
  const [otherChannel, setOtherChannel] = useState("");
  const [later, setLater] = useState(0);
  const [rate, setRate] = useState(0);
  const make = useChange((asked: MakeRequest) => answer(tracesMakeCreate({ path: { id: trace.id }, body: asked })), "traces");
  const go = (asked: MakeRequest) => make.mutate(asked, { onSuccess: (made) => void navigate(`/traces/${made[0]?.id}`) });
  const [start, stop] = selected ?? [from, to];
  const second = others.find((item) => String(item.id) === other);
  const names = (channels: string[]) => channels.filter((name) => !name.endsWith(".messages")).map((name) => ({ value: name, label: name }));
  return (
    <div className="space-y-3 text-[14px]">
      <p className="text-[13px] text-soft">Each makes a new trace; this one stays.</p>
      <Trouble error={make.error} />
      <Way title="A part of it">
        <Button small onClick={() => go({ how: "cut", start, stop })}>
          Take {show(start, "", 2)} to {show(stop, "s", 2)}
        </Button>
        <Button small disabled={cursor <= 0} onClick={() => go({ how: "split", at: cursor })}>
          Two parts, split at {show(cursor, "s", 2)}
        </Button>
      </Way>
      <Way title="Moved in time">
        <NumberField label="Later by" word="later by" unit="s" value={by} onChange={setBy} />
        <Button small disabled={by === 0} onClick={() => go({ how: "move", by })}>
          Move it
        </Button>
      </Way>
      <Way title="Together with another recording">
        <Choice label="With" value={other} options={[{ value: "", label: "a trace …" }, ...others.map((item) => ({ value: String(item.id), label: item.name }))]} onChange={setOther} />
        {second && (
          <>
            <Choice label="lined up by" value={channel} options={[{ value: "", label: "a time" }, ...names(trace.channels)]} onChange={setChannel} />
            {channel ? (
              <Choice label="and its" value={otherChannel || channel} options={names(second.channels)} onChange={setOtherChannel} />
            ) : (
              <NumberField label="The other one later by" word="the other one later by" unit="s" value={later} onChange={setLater} />
            )}
            <Button small onClick={() => go({ how: "merge", other: second.id, by: later, channel, other_channel: otherChannel || channel })}>
              Merge
            </Button>
            {channel && <p className="text-[13px] text-soft">The first press, message or crossing of the middle in each falls together.</p>}
          </>
        )}
      </Way>
      <Way title="Files to take away">
        <NumberField label="Rate, 0 as recorded" word="rate (0: as recorded)" unit="Hz" value={rate} least={0} onChange={setRate} />
        <a className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" href={`/api/traces/${trace.id}/csv${rate > 0 ? `?rate=${rate}` : ""}`} download>
          CSV
        </a>
        <a className="rounded border border-rule bg-sheet px-2 py-1 text-[13px] hover:bg-sunk" href={`/api/traces/${trace.id}/csv-metadata`} download>
          What its columns are (CSVW)
        </a>
      </Way>
      <p className="text-[13px] text-soft">{parts.length} channels. What is exported can be imported again unchanged.</p>
    </div>
  );
}

function Way({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="border-t border-rule pt-2" aria-label={title}>
      <h3 className="mb-1.5 font-bold">{title}</h3>
      <div className="flex flex-wrap items-center gap-1.5">{children}</div>
    </section>
  );
}
