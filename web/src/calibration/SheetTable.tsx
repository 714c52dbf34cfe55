import { useState } from "react";

import type { Findings } from "../api/generated";
import { show } from "../model/numbers";
import { MOVES, numberIn, reshaped, type Row, unitOf, withUnit } from "./sheet";

interface Props {
  rows: Row[];
  findings: Findings | undefined;
  said: string[];
  chosen: number | null;
  onChoose: (place: number) => void;
  onChange: (rows: Row[], gesture: string) => void;
}

const FIELD = "rounded border border-rule bg-sheet px-1 py-0.5 text-[13.5px]";

/** The tape measure's table: what is asked of the robot, and what the tape says. */
export function SheetTable({ rows, findings, said, chosen, onChoose, onChange }: Props) {
  const put = (place: number, row: Row) => onChange(rows.map((old, index) => (index === place ? row : old)), `row ${place}`);
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-rule text-left text-[12.5px] text-soft">
          <th className="py-1 pl-2 font-normal">Move</th>
          <th className="font-normal">ends by</th>
          <th className="font-normal">power</th>
          <th className="font-normal">asked for</th>
          <th className="font-normal">measured</th>
          <th className="font-normal" title="Where it ended beside the straight line; to the left is more than 0">
            sideways
          </th>
          <th className="font-normal" title="Kept out of the fit, to test it">
            test
          </th>
          <td />
        </tr>
      </thead>
      <tbody>
        {rows.map((row, place) => {
          const residual = findings?.residuals.find((item) => item.row === place);
          const unit = unitOf(row);
          const off = residual && row.measured ? Number(numberIn(row.measured)) - residual.expected : null;
          return (
            <tr key={place} className={`border-b border-rule ${chosen === place ? "bg-leaf-wash" : ""}`} onFocus={() => onChoose(place)} onClick={() => onChoose(place)} data-row={place}>
              <td className="py-0.5 pl-2">
                <select className={FIELD} value={row.move} aria-label={`Move ${place + 1}`} onChange={(event) => put(place, reshaped(row, { move: event.target.value as Row["move"] }))}>
                  {MOVES.map((move) => (
                    <option key={move.value} value={move.value}>
                      {move.label}
                    </option>
                  ))}
                </select>
              </td>
              <td>
                <select className={FIELD} value={row.by} aria-label={`How move ${place + 1} ends`} onChange={(event) => put(place, reshaped(row, { by: event.target.value as Row["by"] }))}>
                  <option value="encoder">encoder</option>
                  <option value="time">time</option>
                </select>
              </td>
              <td>
                <Number_ label={`Power of move ${place + 1}`} value={row.power} unit="%" onChange={(power) => power && put(place, { ...row, power })} />
              </td>
              <td>
                {row.by === "time" ? (
                  <Number_ label={`Time of move ${place + 1}`} value={row.time} unit="s" onChange={(time) => time && put(place, { ...row, time })} />
                ) : (
                  <Number_ label={`What move ${place + 1} asks for`} value={row.amount} unit={unit} onChange={(amount) => amount && put(place, { ...row, amount })} />
                )}
              </td>
              <td>
                <Number_ label={`Measured of move ${place + 1}`} value={row.measured} unit={unit} strong onChange={(measured) => put(place, without(row, "measured", measured))} />
              </td>
              <td>{row.move === "straight" && <Number_ label={`Sideways of move ${place + 1}`} value={row.sideways} unit="cm" onChange={(sideways) => put(place, without(row, "sideways", sideways))} />}</td>
              <td>
                <input type="checkbox" checked={row.kept_out ?? false} aria-label={`Keep move ${place + 1} out of the fit, to test it`} onChange={(event) => put(place, { ...row, kept_out: event.target.checked })} />
              </td>
              <td className="num max-w-[130px] pr-1 text-right text-[12.5px] whitespace-nowrap text-soft">
                {said[place] ? (
                  <span className="font-sans whitespace-normal text-clay">{said[place]}</span>
                ) : (
                  off !== null && (
                    <span className={residual?.inside === false ? "font-bold text-clay" : ""} title={`The fit says ${show(residual?.expected ?? 0, unit, 1)}`}>
                      {off >= 0 ? "+" : ""}
                      {show(off, unit, 1)}
                      {residual?.inside === false && " !"}
                    </span>
                  )
                )}
                <button type="button" className="ml-1.5 text-soft hover:text-clay" aria-label={`Delete move ${place + 1}`} onClick={() => onChange(rows.filter((_, index) => index !== place), "delete")}>
                  ×
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function without(row: Row, key: "measured" | "sideways", value: string | undefined): Row {
  const next = { ...row };
  if (value === undefined) delete next[key];
  else next[key] = value;
  return next;
}

interface NumberProps {
  label: string;
  value: string | undefined;
  unit: string;
  strong?: boolean;
  onChange: (value: string | undefined) => void;
}

/** A number with its unit, taken when the field is left or Enter is pressed; empty for none. */
function Number_({ label, value, unit, strong, onChange }: NumberProps) {
  const [text, setText] = useState(numberIn(value));
  const [known, setKnown] = useState(value);
  if (known !== value) {
    setKnown(value);
    setText(numberIn(value));
  }
  const keep = () => {
    const next = withUnit(text, unit);
    if (next !== value) onChange(next);
  };
  return (
    <label className="flex items-center gap-1">
      <input
        className={`num ${FIELD} w-[58px] text-right ${strong ? "font-bold" : ""}`}
        value={text}
        inputMode="decimal"
        aria-label={`${label} in ${unit}`}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && keep()}
      />
      <span className="w-6 text-[12.5px] text-soft">{unit}</span>
    </label>
  );
}
