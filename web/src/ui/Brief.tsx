import type { ReactNode } from "react";

/** A plain text with simple formatting: blank lines part paragraphs, lines with - are a list, **words** are bold. */
export function Brief({ text }: { text: string }) {
  const blocks = text.split(/\n\s*\n/).filter((block) => block.trim());
  return (
    <div className="mb-3 space-y-2 text-[14px] leading-snug text-soft">
      {blocks.map((block, index) => {
        const lines = block.trim().split("\n");
        return lines.every((line) => line.startsWith("- ")) ? (
          <ul key={index} className="list-disc pl-5">
            {lines.map((line, place) => (
              <li key={place}>{bold(line.slice(2))}</li>
            ))}
          </ul>
        ) : (
          <p key={index}>{bold(block)}</p>
        );
      })}
    </div>
  );
}

function bold(text: string): ReactNode[] {
  return text.split(/\*\*(.+?)\*\*/).map((piece, index) => (index % 2 ? <b key={index} className="text-ink">{piece}</b> : piece));
}
