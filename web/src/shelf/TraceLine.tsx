import { useIsFetching } from "@tanstack/react-query";

import { useLanes } from "../api/hooks";
import type { Trace } from "../api/generated";
import { Strip } from "../ui/Strip";

const HEIGHT = 34;

/** A trace at a glance: its first channel that is more than on and off, small. */
export function TraceLine({ trace }: { trace: Trace }) {
  // the boards come first, then what is drawn on them
  const busy = useIsFetching({ predicate: ({ queryKey }) => queryKey[1] === "shelf" }) > 0;
  const lanes = useLanes(busy ? null : trace.id, 0, trace.duration_us / 1e6, 140).data?.lanes ?? [];
  const lane = lanes.find((item) => item.part === "range") ?? lanes.find((item) => item.part.endsWith(".angle")) ?? lanes.find((item) => new Set(item.values).size > 3);
  if (!lane) return <div style={{ height: HEIGHT }} />;
  return (
    <figure className="min-w-0 flex-1">
      <Strip lane={lane} end={trace.duration_us / 1e6} height={HEIGHT} />
      <figcaption className="text-[12px] leading-none text-soft">{lane.part} over time</figcaption>
    </figure>
  );
}
