import { Button } from "../ui/Button";
import { Typed } from "./FieldForm";
import type { RigSource } from "./source";

interface Row {
  does: string;
  [role: string]: number | string;
}

interface Driver {
  motor: string;
  lines: Record<string, string>;
  duty?: string;
  table: Row[];
}

const DOES = ["forward", "backward", "brake", "coast"];
const FIELD = "rounded border border-rule bg-sheet px-1 py-0.5 text-[13.5px]";

/** What stands between lines of the controller and motors: which lines there are, and what they do at which levels. */
export function Drivers({ source, motors, onChange }: { source: RigSource; motors: string[]; onChange: (source: RigSource) => void }) {
  const drivers = (source["drivers"] ?? {}) as Record<string, Driver>;
  const put = (next: Record<string, Driver>) => {
    const changed: RigSource = { ...source, drivers: next };
    if (!Object.keys(next).length) delete changed["drivers"];
    onChange(changed);
  };
  const free = motors.find((motor) => !Object.values(drivers).some((driver) => driver.motor === motor));
  const add = () => {
    if (!free) return;
    const table = [[1, 0, "forward"], [0, 1, "backward"], [1, 1, "brake"], [0, 0, "coast"]].map(([a, b, does]) => ({ a, b, does })) as Row[];
    put({ ...drivers, [`${free} driver`]: { motor: free, lines: { a: `${free} a`, b: `${free} b`, enable: `${free} enable` }, duty: "enable", table } });
  };
  if (!motors.length) return null;
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Drivers">
      <h3 className="flex items-center gap-2 font-bold">
        <span className="flex-1">Drivers</span>
        {free && (
          <Button small onClick={add}>
            Add one for {free}
          </Button>
        )}
      </h3>
      <p className="text-[12.5px] leading-tight text-soft">For classes that set the lines of the controller themselves. The first row that fits counts; where none does, the motor coasts.</p>
      {Object.entries(drivers).map(([name, driver]) => (
        <OneDriver
          key={name}
          name={name}
          driver={driver}
          motors={motors}
          onChange={(next) => put({ ...drivers, [name]: next })}
          onDelete={() => put(Object.fromEntries(Object.entries(drivers).filter(([other]) => other !== name)))}
        />
      ))}
    </section>
  );
}

function OneDriver({ name, driver, motors, onChange, onDelete }: { name: string; driver: Driver; motors: string[]; onChange: (driver: Driver) => void; onDelete: () => void }) {
  const roles = Object.keys(driver.lines);
  const levels = roles.filter((role) => role !== driver.duty);
  const row = (index: number, next: Row) => onChange({ ...driver, table: driver.table.map((item, at) => (at === index ? next : item)) });
  const level = (item: Row, role: string, text: string): Row => {
    const next: Row = { ...item };
    delete next[role];
    return text === "" ? next : { ...next, [role]: Number(text) };
  };
  return (
    <fieldset className="mt-1.5 rounded border border-rule px-2 pb-1.5" data-driver={name}>
      <legend className="px-1">{name}</legend>
      <div className="flex items-center gap-2">
        <span className="flex-1">drives</span>
        <select className={FIELD} value={driver.motor} aria-label={`${name} drives`} onChange={(event) => onChange({ ...driver, motor: event.target.value })}>
          {[...new Set([driver.motor, ...motors])].map((motor) => (
            <option key={motor}>{motor}</option>
          ))}
        </select>
        <Button small aria-label={`Delete ${name}`} onClick={onDelete}>
          Delete
        </Button>
      </div>
      {roles.map((role) => (
        <div key={role} className="mt-1 flex items-center gap-2">
          <span className="flex-1">line &ldquo;{role}&rdquo;</span>
          <Typed narrow label={`${name}, line of ${role}`} value={driver.lines[role] ?? ""} hint="" onChange={(line) => line && onChange({ ...driver, lines: { ...driver.lines, [role]: line } })} />
          <label className="flex w-[112px] items-center gap-1 text-[13px]">
            <input type="radio" name={`${name} duty`} checked={driver.duty === role} onChange={() => onChange({ ...driver, duty: role, table: driver.table.map((item) => level(item, role, "")) })} />
            is the power
          </label>
        </div>
      ))}
      <table className="mt-1.5 text-[13.5px]">
        <thead>
          <tr className="text-left text-soft">
            {levels.map((role) => (
              <th key={role} className="pr-2 font-normal">
                {role}
              </th>
            ))}
            <th className="font-normal">does</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {driver.table.map((item, index) => (
            <tr key={index}>
              {levels.map((role) => (
                <td key={role} className="pr-2">
                  <select className={FIELD} value={item[role] === undefined ? "" : String(item[role])} aria-label={`${name}, row ${index + 1}, ${role}`} onChange={(event) => row(index, level(item, role, event.target.value))}>
                    <option value="">any</option>
                    <option value="1">high</option>
                    <option value="0">low</option>
                  </select>
                </td>
              ))}
              <td>
                <select className={FIELD} value={item.does} aria-label={`${name}, row ${index + 1}, does`} onChange={(event) => row(index, { ...item, does: event.target.value })}>
                  {DOES.map((does) => (
                    <option key={does}>{does}</option>
                  ))}
                </select>
              </td>
              <td>
                {driver.table.length > 1 && (
                  <Button small aria-label={`${name}, delete row ${index + 1}`} onClick={() => onChange({ ...driver, table: driver.table.filter((_, at) => at !== index) })}>
                    Delete
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button small className="mt-1" onClick={() => onChange({ ...driver, table: [...driver.table, { does: "coast" }] })}>
        Add a row
      </Button>
    </fieldset>
  );
}
