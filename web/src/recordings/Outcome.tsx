import type { RecipeDocument, Understanding } from "../api/generated";
import { show } from "../model/numbers";
import { Strip } from "../ui/Strip";

interface Props {
  found: Understanding;
  onBadRows: (choice: RecipeDocument["bad_rows"]) => void;
}

/** What the file becomes: the channels as strips, and every row and value that would be lost on the way. */
export function Outcome({ found, onBadRows }: Props) {
  const places = found.duration < 100 ? 2 : 1;
  return (
    <div>
      {found.bad_count > 0 && <BadRows found={found} onBadRows={onBadRows} />}
      {found.problem && found.problem.code !== "bad-row" && (
        <div role="alert" className="mb-2 border-l-4 border-clay bg-clay-wash px-3 py-1.5 text-[14px]">
          <b>{found.problem.message}</b> {found.problem.remedy}
        </div>
      )}
      {found.samples > 0 && (
        <>
          <p className="num mb-1.5 text-[14px]">
            {found.samples.toLocaleString("en-GB")} samples, {show(found.duration, "s", places)}
            {found.rate !== null && `, ${show(found.rate, "Hz", 1)}`}
          </p>
          <ul className="space-y-1">
            {found.lanes.map((lane) => {
              const values = lane.values.filter((value) => value !== null);
              const unit = found.offers.find((offer) => offer.channel === lane.part)?.unit ?? "";
              const contact = found.offers.find((offer) => offer.channel === lane.part)?.contact ?? false;
              const absent = found.absent.find((item) => item.channel.replace(/\.raw$/, "") === lane.part);
              return (
                <li key={lane.part} className="grid grid-cols-[92px_1fr_190px] items-center gap-3" data-strip={lane.part}>
                  <span className="truncate font-bold">{lane.part}</span>
                  <span className="rounded border border-rule bg-sheet px-1">
                    <Strip lane={lane} end={found.duration} height={30} stepped={contact} />
                  </span>
                  <span className="num text-[13px] leading-tight text-soft">
                    {said(lane.texts, values, unit, contact)}
                    {absent && <span className="block">no reading: {absent.codes.map((code) => `${code.word} (${code.count})`).join(", ")}</span>}
                  </span>
                </li>
              );
            })}
          </ul>
          {found.held > 0 && <p className="mt-1.5 text-[13px] text-soft">{found.held.toLocaleString("en-GB")} values that a line does not say are held from the line before.</p>}
          {found.doubts.map((doubt) => (
            <p key={doubt} className="mt-1.5 border-l-4 border-ochre pl-3 text-[14px]">
              {doubt}
            </p>
          ))}
        </>
      )}
    </div>
  );
}

function said(texts: (string | null)[] | undefined, values: number[], unit: string, contact: boolean): string {
  if (texts) return `${texts.length} messages`;
  if (!values.length) return "no reading at all";
  if (contact) return values.includes(1) ? (values.includes(0) ? "pressed and released" : "pressed all along") : "never pressed";
  return `${show(values.reduce((a, b) => Math.min(a, b)), "", 1)} to ${show(values.reduce((a, b) => Math.max(a, b)), unit, 1)}`;
}

/** Rows that cannot be used, with their numbers, and what is to become of them. */
function BadRows({ found, onBadRows }: Props) {
  const dropped = found.recipe.bad_rows === "drop";
  return (
    <section className="mb-2 border-l-4 border-ochre bg-ochre-wash px-3 py-1.5 text-[14px]" aria-label="Rows that cannot be used">
      <p>
        <b>
          {found.bad_count.toLocaleString("en-GB")} of {found.rows.toLocaleString("en-GB")} rows cannot be used
        </b>{" "}
        ({found.bad_kinds.map((kind) => `${kind.count} with ${kind.word}`).join(", ")}).
      </p>
      <div className="my-1 flex flex-wrap gap-x-5">
        <label className="flex items-center gap-1.5">
          <input type="radio" name="bad" checked={!dropped} onChange={() => onBadRows("stop")} /> import nothing until they are mended
        </label>
        <label className="flex items-center gap-1.5">
          <input type="radio" name="bad" checked={dropped} onChange={() => onBadRows("drop")} /> leave these rows out
        </label>
      </div>
      <ul className="num max-h-24 overflow-y-auto text-[13px]" tabIndex={0} aria-label="The rows">
        {found.bad_rows.slice(0, 100).map((row, index) => (
          <li key={index}>
            line {row.line}: {row.why} {row.text && <span className="text-soft">{row.text.slice(0, 60)}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}
