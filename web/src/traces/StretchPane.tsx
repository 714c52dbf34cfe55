import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer } from "../api/client";
import { tracesStretchRetrieve } from "../api/generated";
import { useAxis } from "../bench/store";
import { useSettled } from "../ui/useSettled";
import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";

/** What the chosen stretch is like; what is seen, where none is chosen. */
export function StretchPane({ trace }: { trace: number }) {
  const { selected, from, to, cursor, select } = useAxis();
  const [start, stop] = useSettled(selected ?? [from, to], 150);
  const stretch = useQuery({
    queryKey: ["stretch", trace, start, stop],
    queryFn: ({ signal }) => answer(tracesStretchRetrieve({ path: { id: trace }, query: { from: start, to: stop }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const found = stretch.data;
  return (
    <div className="space-y-2 text-[14px]">
      <div className="flex flex-wrap gap-1.5">
        <Button small onClick={() => select([cursor, selected && selected[1] > cursor ? selected[1] : to])} title="[">
          From the cursor
        </Button>
        <Button small onClick={() => select([selected && selected[0] < cursor ? selected[0] : from, cursor])} title="]">
          Up to the cursor
        </Button>
        {selected && (
          <Button small onClick={() => select(null)}>
            Choose none
          </Button>
        )}
      </div>
      <p className="num" data-stretch="">
        <b className="font-sans">{selected ? "Chosen: " : "What is seen: "}</b>
        {show(start, "", 3)} to {show(stop, "s", 3)}, {show(stop - start, "s", 3)} long
      </p>
      <Trouble error={stretch.error} />
      {found && (
        <>
          <p className="num text-soft">
            {found.samples.toLocaleString("en-GB")} samples{found.rate !== null && `, ${show(found.rate, "Hz", 1)}`},{" "}
            {found.gap_count === 0 ? "no gaps" : found.gap_count === 1 ? "1 gap" : `${found.gap_count} gaps`}
          </p>
          {found.gaps.slice(0, 3).map((gap) => (
            <p key={gap[0]} className="num text-[13px] text-soft">
              gap from {show(gap[0] ?? 0, "", 3)} to {show(gap[1] ?? 0, "s", 3)}
            </p>
          ))}
          <table className="w-full border-collapse">
            <thead>
              <tr className="border-b border-rule text-left text-[12.5px] text-soft">
                <th className="font-normal">Channel</th>
                <th className="text-right font-normal">least</th>
                <th className="text-right font-normal">mean</th>
                <th className="text-right font-normal">greatest</th>
                <th className="text-right font-normal">noise</th>
              </tr>
            </thead>
            <tbody className="num text-[13px]">
              {found.channels.map((channel) => (
                <tr key={channel.name} className="border-b border-rule" data-channel={channel.name}>
                  <td className="max-w-24 truncate py-0.5 pr-1 font-sans" title={channel.name}>
                    {channel.name}
                    {channel.unit && <span className="text-soft"> {channel.unit}</span>}
                    {channel.absent > 0 && <span className="block text-[12px] text-soft">{show(channel.absent * 100, "%", 1)} absent</span>}
                  </td>
                  {channel.changes !== null ? (
                    <td colSpan={4} className="text-right">
                      {times(channel.changes, channel.mean)}
                    </td>
                  ) : (
                    [channel.least, channel.mean, channel.greatest, channel.noise].map((value, index) => (
                      <td key={index} className="text-right">
                        {value === null ? "–" : show(value, "", Math.abs(value) >= 1000 ? 0 : 2)}
                      </td>
                    ))
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

function times(changes: number, share: number | null): string {
  const often = changes === 0 ? "never" : changes === 1 ? "once" : `${changes} times`;
  return share === null ? `${often} a message` : `pressed anew ${often}, ${show(share * 100, "%", 1)} of the time`;
}
