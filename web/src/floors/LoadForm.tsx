import type { ReactNode } from "react";

import { Typed } from "../rigs/FieldForm";
import { Button } from "../ui/Button";

/** Something that motors lift, as the worktop's file has it. */
export interface LoadSource {
  name: string;
  lifted_by: string;
  gripped_by: string;
  grips_at: string;
  pulls: string;
  within?: string;
  note?: string;
  lies: Record<string, string>[];
}

const FIELD = "rounded border border-rule bg-sheet px-1.5 py-0.5 text-[14px]";

/** A load to start from, with the motors that there are. */
export function newLoad(loads: LoadSource[], motors: string[]): LoadSource {
  const names = new Set(loads.map((load) => load.name));
  let name = "tray";
  for (let number = 2; names.has(name); number++) name = `tray ${number}`;
  const [lifts = "hoist", grips = "jaw"] = motors;
  return { name, lifted_by: lifts, gripped_by: grips, grips_at: "60 deg", pulls: "5 Ncm", lies: [{ [lifts]: "0 deg" }] };
}

interface Props {
  load: LoadSource;
  motors: string[];
  onChange: (load: LoadSource, gesture: string) => void;
  onDelete: () => void;
}

/** One load: its motors, its weight, and the places where it can lie. */
export function LoadForm({ load, motors, onChange, onDelete }: Props) {
  const aside = [...new Set(load.lies.flatMap((place) => Object.keys(place)))].filter((name) => name !== "name" && name !== load.lifted_by);
  const others = motors.filter((name) => name !== load.lifted_by && name !== load.gripped_by && !aside.includes(name));
  const angle = (text: string) => (/^-?[0-9.]+$/.test(text) ? `${text} deg` : text);
  const place = (index: number, key: string, value: string) =>
    onChange({ ...load, lies: load.lies.map((item, at) => (at === index ? without({ ...item, [key]: value }, key, value) : item)) }, `place ${index} ${key}`);
  const lifts = (name: string) => {
    const lies = load.lies.map(({ [load.lifted_by]: height = "0 deg", ...rest }) => ({ ...rest, [name]: height }));
    onChange({ ...load, lifted_by: name, lies }, "lifted_by");
  };
  return (
    <fieldset className="w-[820px] max-w-full rounded border border-rule bg-sheet px-3 py-2" data-load-form={load.name}>
      <legend className="px-1 font-bold">{load.name}</legend>
      <div className="grid grid-cols-2 gap-x-8 gap-y-1.5 text-[14px]">
        <Row word="name">
          <Typed wide label={`Name of ${load.name}`} value={load.name} hint="" onChange={(name) => name && onChange({ ...load, name }, "name")} />
        </Row>
        <Row word="lifted by" why="It pulls at what this motor moves.">
          <Motor label={`${load.name} is lifted by`} value={load.lifted_by} motors={motors} onChange={lifts} />
        </Row>
        <Row word="pulls with" why="More than the motor's torque times its gear cannot be lifted.">
          <Typed label={`${load.name} pulls with`} value={load.pulls} hint="" onChange={(pulls) => onChange({ ...load, pulls: /^[0-9.]+$/.test(pulls) ? `${pulls} Ncm` : pulls }, "pulls")} />
        </Row>
        <Row word="gripped by">
          <Motor label={`${load.name} is gripped by`} value={load.gripped_by} motors={motors} onChange={(name) => onChange({ ...load, gripped_by: name }, "gripped_by")} />
        </Row>
        <Row word="is gripped near it, within" why="So near the motors must stand to where it lies.">
          <Typed label={`${load.name} is gripped within`} value={load.within ?? ""} hint="8 deg" onChange={(within) => onChange(without({ ...load, within: angle(within) }, "within", within), "within")} />
        </Row>
        <Row word="the grip closes on it at" why="The grip cannot close further then.">
          <Typed label={`The grip closes on ${load.name} at`} value={load.grips_at} hint="" onChange={(grips) => onChange({ ...load, grips_at: angle(grips) }, "grips_at")} />
        </Row>
      </div>
      <table className="mt-2 text-[14px]">
        <caption className="text-left whitespace-nowrap text-[13px] text-soft">Where it can lie; the first is where it lies at the start, the lowest is the worktop itself.</caption>
        <thead>
          <tr className="text-left text-[12.5px] text-soft">
            <th className="pr-3 font-normal">Place</th>
            <th className="pr-3 font-normal">{load.lifted_by}</th>
            {aside.map((name) => (
              <th key={name} className="pr-3 font-normal">
                {name}
              </th>
            ))}
            <td />
          </tr>
        </thead>
        <tbody>
          {load.lies.map((item, index) => (
            <tr key={index}>
              <td className="pr-3">
                <Typed label={`Name of place ${index + 1}`} value={item["name"] ?? ""} hint="no name" onChange={(name) => place(index, "name", name)} />
              </td>
              {[load.lifted_by, ...aside].map((name) => (
                <td key={name} className="pr-3">
                  <Typed label={`${name} at place ${index + 1}`} value={item[name] ?? ""} hint="any" onChange={(value) => place(index, name, angle(value))} />
                </td>
              ))}
              <td>
                {load.lies.length > 1 && (
                  <Button small onClick={() => onChange({ ...load, lies: load.lies.filter((_, at) => at !== index) }, "place away")}>
                    Delete
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button small onClick={() => onChange({ ...load, lies: [...load.lies, { ...load.lies.at(-1), name: `place ${load.lies.length + 1}` }] }, "place")}>
          Add a place
        </Button>
        {aside.length < 2 &&
          others.map((name) => (
            <Button small key={name} onClick={() => onChange({ ...load, lies: load.lies.map((item) => ({ ...item, [name]: "0 deg" })) }, "aside")}>
              Places say where {name} stands
            </Button>
          ))}
        <span className="flex-1" />
        <Button small onClick={onDelete}>
          Delete {load.name}
        </Button>
      </div>
    </fieldset>
  );
}

function without<Table extends object>(table: Table, key: string, value: string): Table {
  if (value) return table;
  const next = { ...table } as Record<string, unknown>;
  delete next[key];
  return next as Table;
}

function Row({ word, why, children }: { word: string; why?: string; children: ReactNode }) {
  return (
    <div>
      <div className="flex items-center gap-2">
        <span className="flex-1">{word}</span>
        {children}
      </div>
      {why && <p className="text-[12.5px] leading-tight text-soft">{why}</p>}
    </div>
  );
}

function Motor({ label, value, motors, onChange }: { label: string; value: string; motors: string[]; onChange: (name: string) => void }) {
  return (
    <select className={`${FIELD} w-[124px]`} value={value} aria-label={label} onChange={(event) => onChange(event.target.value)}>
      {[...new Set([value, ...motors])].map((name) => (
        <option key={name} value={name}>
          {name}
        </option>
      ))}
    </select>
  );
}
