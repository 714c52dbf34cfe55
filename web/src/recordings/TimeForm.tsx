import type { Reason, Timing } from "../api/generated";
import { NumberField } from "../ui/NumberField";
import { Choice } from "../ui/Choice";

const UNITS = [
  { value: "s", label: "s" },
  { value: "ms", label: "ms" },
  { value: "us", label: "us" },
  { value: "ns", label: "ns" },
  { value: "min", label: "min" },
  { value: "h", label: "h" },
  { value: "clock", label: "a clock" },
];
const WRAPS = [
  { value: "0", label: "never" },
  { value: "65536", label: "at 65,536 (16 bit)" },
  { value: "4294967296", label: "at 4,294,967,296 (32 bit)" },
  { value: "16777216", label: "at 16,777,216 (24 bit)" },
  { value: "4294967.296", label: "at 4,294,967 (32 bit of us, in ms)" },
];

interface Props {
  time: Timing;
  columns: Reason[];
  because: string;
  /** For lines that come, which begin when they come. */
  live?: boolean;
  onChange: (time: Timing) => void;
}

/** How the time is read. */
export function TimeForm({ time, columns, because, live = false, onChange }: Props) {
  const with_ = (changed: Partial<Timing>) => onChange({ ...time, ...changed });
  const names = columns.map((column) => ({ value: column.name, label: column.name }));
  const wraps = WRAPS.some((item) => Number(item.value) === time.wraps) ? WRAPS : [...WRAPS, { value: String(time.wraps), label: `at ${time.wraps}` }];
  const kept = wraps.find((item) => Number(item.value) === time.wraps)?.value ?? "0";
  return (
    <div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <Choice label="The time is" value={time.column} options={[{ value: "", label: "no column: an even rate" }, ...names]} onChange={(column) => with_({ column })} />
        {time.column === "" ? (
          <NumberField label="Rows a second" word="rows a second" unit="Hz" value={time.rate} least={0} onChange={(rate) => with_({ rate })} />
        ) : (
          <>
            <Choice label="counted in" value={time.unit} options={UNITS} onChange={(unit) => with_({ unit: unit as Timing["unit"] })} />
            {time.unit === "clock" ? (
              <Choice label="days in" value={time.date} options={[{ value: "", label: "no column" }, ...names]} onChange={(date) => with_({ date })} />
            ) : (
              <Choice label="begins again" value={kept} options={wraps} onChange={(value) => with_({ wraps: Number(value) })} />
            )}
            {!live && <Choice
              label="0 s is"
              value={time.starts}
              options={[
                { value: "file", label: "where the file has it" },
                { value: "zero", label: "the first row" },
              ]}
              onChange={(starts) => with_({ starts: starts as Timing["starts"] })}
            />}
            <Choice
              label="rows of one time"
              value={time.equal}
              options={[
                { value: "drop", label: "are not usable" },
                { value: "spread", label: "are spread evenly" },
              ]}
              onChange={(equal) => with_({ equal: equal as Timing["equal"] })}
            />
          </>
        )}
      </div>
      {because && <p className="mt-1 text-[13px] text-soft">Why: {because}.</p>}
    </div>
  );
}
