import type { Line } from "../api/generated";

const WORDS: Record<Line["role"], string> = {
  heading: "names",
  units: "units",
  comment: "note",
  before: "not read",
  row: "",
  bad: "not usable",
  empty: "",
};

/** The first lines of a file as they are, each with what it was taken for. */
export function FileLines({ lines }: { lines: Line[] }) {
  return (
    <div className="overflow-x-auto rounded border border-rule bg-sheet" tabIndex={0} role="group" aria-label="The first lines of the file">
      <table className="num w-full border-collapse text-[12.5px] leading-[19px]">
        <tbody>
          {lines.map((line) => (
            <tr key={line.number} className={tint(line.role)} data-line={line.number} data-role={line.role}>
              <td className="w-7 pr-1 pl-2 text-right text-soft select-none">{line.number}</td>
              <td className="w-[68px] px-1 font-sans text-[12px] font-bold whitespace-nowrap select-none">{WORDS[line.role]}</td>
              <td className={`pr-3 whitespace-pre ${line.role === "before" || line.role === "comment" ? "text-soft italic" : ""}`}>{line.text.replaceAll("\t", "→\t") || " "}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function tint(role: Line["role"]): string {
  if (role === "heading" || role === "units") return "bg-leaf-wash";
  return role === "bad" ? "bg-clay-wash" : "";
}
