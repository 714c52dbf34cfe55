import { DialogTitle } from "@headlessui/react";

import type { Part, Threshold } from "../api/generated";
import type { Moved } from "../model/handles";
import { show } from "../model/numbers";
import { withLet } from "../model/thresholds";
import { LevelsOf } from "../traces/LevelsOf";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { useSpan } from "./store";

interface Props {
  part: Part | null;
  trace: number;
  text: string;
  handles: Moved[];
  onMove: (places: Threshold[], value: number) => void;
  onText: (text: string) => void;
  onClose: () => void;
}

/** The threshold that a reading suggests, from what is seen of it, and where the program can use it. */
export function LevelsDialog({ part, trace, text, handles, onMove, onText, onClose }: Props) {
  const { from, to, end } = useSpan();
  const lines = text.split("\n");
  return (
    <Overlay open={part !== null} onClose={onClose} className="max-h-[92vh] w-[min(440px,95vw)] space-y-2 overflow-auto p-4 text-[14px]">
      <DialogTitle className="text-lg font-bold">A threshold for {part?.name}</DialogTitle>
      <p className="text-[13px] text-soft">{to - from < end * 0.999 ? `From what is seen: ${show(from)} s to ${show(to)} s.` : "From the whole trace. Zoom in to look at a part of it."}</p>
      {part && (
        <LevelsOf trace={trace} part={part} from={from} to={to}>
          {(value, slack) => (
            <ul className="space-y-1 border-t border-rule pt-2">
              {handles
                .filter((handle) => handle.part === part.name)
                .map((handle) => (
                  <li key={`${handle.line}:${handle.column}`}>
                    <Button
                      small
                      onClick={() => {
                        onMove(handle.places, value);
                        onClose();
                      }}
                    >
                      Line {handle.line}: {(lines[handle.line - 1] ?? "").trim().slice(0, 34)} → {show(value, part.unit)}
                    </Button>
                  </li>
                ))}
              <li>
                <Button
                  small
                  onClick={() => {
                    onText(withLet(text, part, value, slack));
                    onClose();
                  }}
                >
                  As a value of its own, on top
                </Button>
              </li>
            </ul>
          )}
        </LevelsOf>
      )}
      <div className="flex justify-end">
        <Button onClick={onClose}>Close</Button>
      </div>
    </Overlay>
  );
}
