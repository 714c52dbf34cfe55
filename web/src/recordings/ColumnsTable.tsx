import { useState } from "react";

import type { Offer, Reason, RecipeDocument, Use } from "../api/generated";
import { Button } from "../ui/Button";

interface Props {
  columns: Reason[];
  offers: Offer[];
  recipe: RecipeDocument;
  onChange: (uses: Use[]) => void;
}

const FIELD = "rounded border border-rule bg-sheet px-1.5 py-0.5 text-[14px]";

/** Every column of the file: its first cells, which part of the rig it is, and what it is measured in. */
export function ColumnsTable({ columns, offers, recipe, onChange }: Props) {
  const rest = columns.filter((column) => column.name !== recipe.time.column && column.name !== recipe.time.date);
  const put = (use: Use) => onChange([...recipe.columns.filter((item) => item.column !== use.column), use]);
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-rule text-left text-[13px] text-soft">
          <th className="py-1 pr-3 font-normal">Column</th>
          <th className="pr-3 font-normal">First cells</th>
          <th className="pr-3 font-normal">Part of the rig</th>
          <th className="pr-3 font-normal">In</th>
          <th className="pr-3 font-normal">No reading is</th>
        </tr>
      </thead>
      <tbody>
        {rest.map((column) => (
          <Row
            key={column.name}
            column={column}
            offers={offers}
            use={recipe.columns.find((item) => item.column === column.name && item.channel) ?? null}
            taken={recipe.columns.filter((item) => item.column !== column.name).map((item) => item.channel)}
            onChange={put}
          />
        ))}
      </tbody>
    </table>
  );
}

interface RowProps {
  column: Reason;
  offers: Offer[];
  use: Use | null;
  taken: string[];
  onChange: (use: Use) => void;
}

function Row({ column, offers, use, taken, onChange }: RowProps) {
  const offer = offers.find((item) => item.channel === use?.channel);
  const choose = (channel: string) => {
    const next = offers.find((item) => item.channel === channel);
    const unit = use && next?.units.includes(use.unit) ? use.unit : (next?.unit ?? "");
    onChange({ column: column.name, channel, unit, absent: use?.absent ?? [], absent_words: use?.absent_words ?? [], points: [], inverted: false });
  };
  return (
    <>
      <tr className="align-baseline" data-column={column.name}>
        <td className="pt-2 pr-3 font-bold">{column.name}</td>
        <td className="num pr-3 text-[13px] text-soft">{column.sample.slice(0, 3).join(" · ") || "empty"}</td>
        <td className="pr-3">
          <select className={`${FIELD} ${use ? "" : "text-soft"}`} value={use?.channel ?? ""} aria-label={`What ${column.name} is`} onChange={(event) => choose(event.target.value)}>
            <option value="">left out</option>
            {offers.map((item) => (
              <option key={item.channel} value={item.channel} disabled={taken.includes(item.channel)}>
                {item.channel}
              </option>
            ))}
          </select>
        </td>
        <td className="pr-3">
          {use && offer && (offer.contact ? <Contact use={use} column={column} onChange={onChange} /> : <UnitChoice use={use} offer={offer} column={column} onChange={onChange} />)}
        </td>
        <td className="pr-3">{use && <Absent key={use.absent.join()} use={use} column={column} onChange={onChange} />}</td>
      </tr>
      <tr className="border-b border-rule">
        <td colSpan={5} className="pb-1.5 text-[13px] text-soft">
          {column.because && `${use ? "Why: " : ""}${column.because}.`}
          {use?.unit === "raw" && !use.channel.endsWith(".raw") && <TwoPoints use={use} offer={offer} onChange={onChange} />}
        </td>
      </tr>
    </>
  );
}

interface PartProps {
  use: Use;
  column: Reason;
  onChange: (use: Use) => void;
}

function Contact({ use, column, onChange }: PartProps) {
  return (
    <select className={FIELD} value={use.inverted ? "0" : "1"} aria-label={`How ${column.name} reads when pressed`} onChange={(event) => onChange({ ...use, inverted: event.target.value === "0" })}>
      <option value="1">1 is pressed</option>
      <option value="0">0 is pressed</option>
    </select>
  );
}

function UnitChoice({ use, offer, column, onChange }: PartProps & { offer: Offer }) {
  if (offer.units.length < 2) return <span className="num">{offer.unit}</span>;
  return (
    <select className={FIELD} value={use.unit} aria-label={`The unit of ${column.name}`} onChange={(event) => onChange({ ...use, unit: event.target.value, points: [] })}>
      {offer.units.map((unit) => (
        <option key={unit} value={unit}>
          {unit === "raw" ? "raw numbers" : unit}
        </option>
      ))}
    </select>
  );
}

/** Which numbers and words mean that there was no reading. An empty cell always does. */
function Absent({ use, column, onChange }: PartProps) {
  const [text, setText] = useState([...use.absent.map(String), ...use.absent_words].join(", "));
  const keep = () => {
    const codes = text.split(/[,;]\s*|\s+/).filter(Boolean);
    const numbers = codes.map(Number).filter((code) => Number.isFinite(code));
    const words = codes.filter((code) => !Number.isFinite(Number(code)));
    if (numbers.join() !== use.absent.join() || words.join() !== use.absent_words.join()) onChange({ ...use, absent: numbers, absent_words: words });
  };
  return (
    <input
      className={`num ${FIELD} w-24`}
      value={text}
      placeholder="empty"
      aria-label={`What means no reading in ${column.name}`}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
    />
  );
}

/** What raw numbers mean: two of them, measured at two values. */
function TwoPoints({ use, offer, onChange }: { use: Use; offer: Offer | undefined; onChange: (use: Use) => void }) {
  const first = use.points[0] ?? ["", ""];
  const second = use.points[1] ?? ["", ""];
  const [cells, setCells] = useState([first[1], first[0], second[1], second[0]].map(String));
  const numbers = cells.map((cell) => Number(cell.replace(",", ".")));
  const good = cells.every((cell) => cell.trim() !== "") && numbers.every(Number.isFinite) && numbers[1] !== numbers[3];
  const unit = offer?.unit === "raw" ? "%" : offer?.unit;
  const cell = (place: number, label: string) => (
    <input
      className={`num ${FIELD} w-16 text-right`}
      value={cells[place]}
      inputMode="decimal"
      aria-label={label}
      onChange={(event) => setCells(cells.map((old, index) => (index === place ? event.target.value : old)))}
    />
  );
  return (
    <span className="mt-1 flex flex-wrap items-center gap-1.5 text-ink">
      At {cell(0, "First measured value")} {unit} it says {cell(1, "First raw number")}, at {cell(2, "Second measured value")} {unit} it says {cell(3, "Second raw number")}
      <Button small disabled={!good} onClick={() => onChange({ ...use, points: [[numbers[1] ?? 0, numbers[0] ?? 0], [numbers[3] ?? 0, numbers[2] ?? 0]] })}>
        Use these two
      </Button>
    </span>
  );
}
