import { Button } from "../ui/Button";
import type { Told } from "./useWhy";

interface Props {
  told: Told;
  onLine: (line: number) => void;
  onClose: () => void;
}

/** Why it is so, in a sentence, with the way to the lines that it names. */
export function WhyPanel({ told, onLine, onClose }: Props) {
  const lines = told.kind === "output" ? [told.told.waited?.line ?? 0, told.told.line] : [told.told.line];
  const shown = [...new Set(lines)].filter((line) => line > 0);
  return (
    <div className="flex items-start gap-2.5 border-t border-rule bg-sheet px-3 py-2.5" role="status" data-why="">
      <p className="flex-1 text-[14px] leading-snug">{told.told.because}</p>
      {shown.map((line) => (
        <Button key={line} small onClick={() => onLine(line)}>
          To line {line}
        </Button>
      ))}
      <Button small onClick={onClose}>
        Close
      </Button>
    </div>
  );
}
