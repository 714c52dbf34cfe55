import type { Layout } from "../api/generated";
import { Choice } from "../ui/Choice";

const FORMS = [
  { value: "table", label: "a table" },
  { value: "pairs", label: "lines of names and values" },
  { value: "json", label: "JSON objects" },
];
const DELIMITERS = [
  { value: ",", label: "comma ," },
  { value: ";", label: "semicolon ;" },
  { value: "\t", label: "tab" },
  { value: "|", label: "bar |" },
  { value: " ", label: "spaces" },
  { value: "", label: "nothing: one column" },
];
const DECIMALS = [
  { value: "point", label: "12.5" },
  { value: "comma", label: "12,5" },
];
const GROUPS = [
  { value: "", label: "none" },
  { value: ".", label: "1.234" },
  { value: ",", label: "1,234" },
  { value: " ", label: "1 234" },
  { value: "'", label: "1'234" },
];
const COMMENTS = ["", "#", "//", "%", "!", "*", ";"];

interface Props {
  layout: Layout;
  lines: number;
  onChange: (layout: Layout) => void;
}

/** How the text of a file is laid out. A change lets the columns be found out anew. */
export function LayoutForm({ layout, lines, onChange }: Props) {
  const numbers = Array.from({ length: Math.max(lines, layout.heading) }, (_, index) => index + 1);
  const with_ = (changed: Partial<Layout>) => onChange({ ...layout, ...changed });
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-2">
      <Choice label="The file is" value={layout.form} options={FORMS} onChange={(form) => with_({ form: form as Layout["form"], heading: 0, units: 0, first: 1 })} />
      {layout.form === "table" && (
        <>
          <Choice label="between cells" value={layout.delimiter} options={DELIMITERS} onChange={(delimiter) => with_({ delimiter })} />
          <Choice
            label="names in"
            value={String(layout.heading)}
            options={[{ value: "0", label: "no line" }, ...numbers.map((number) => ({ value: String(number), label: `line ${number}` }))]}
            onChange={(heading) => with_({ heading: Number(heading), units: 0, first: Math.max(1, Number(heading)) })}
          />
        </>
      )}
      <Choice label="decimals" value={layout.decimal} options={DECIMALS} onChange={(decimal) => with_({ decimal: decimal as Layout["decimal"] })} />
      <Choice label="thousands" value={layout.grouped} options={GROUPS} onChange={(grouped) => with_({ grouped })} />
      <Choice
        label="notes begin with"
        value={layout.comment}
        options={COMMENTS.map((value) => ({ value, label: value || "nothing" }))}
        onChange={(comment) => with_({ comment })}
      />
    </div>
  );
}
