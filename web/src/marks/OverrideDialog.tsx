import { DialogTitle } from "@headlessui/react";
import { useState } from "react";

import { answer } from "../api/client";
import { useChange, useOverrides } from "../api/hooks";
import { handInsOverridesCreate, type SheetMark, type SheetRow } from "../api/generated";
import { show, showDay, showPoints } from "../model/numbers";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";
import { VerdictMark } from "../ui/VerdictMark";

export interface Giving {
  row: SheetRow;
  total: SheetMark;
}

/** A mark of the teacher's own, with a reason; Geduld's stays beside it, and nothing that was given is forgotten. */
export function OverrideDialog({ giving, onClose }: { giving: Giving | null; onClose: () => void }) {
  return (
    <Overlay open={giving !== null} onClose={onClose} className="w-[min(520px,95vw)] p-5">
      {giving && <Form giving={giving} onClose={onClose} />}
    </Overlay>
  );
}

function Form({ giving: { row, total }, onClose }: { giving: Giving; onClose: () => void }) {
  const before = useOverrides(row.hand_in).data?.filter((item) => item.check === total.check) ?? [];
  const [points, setPoints] = useState(show(row.given[total.check] ?? total.points));
  const [reason, setReason] = useState("");
  const give = useChange(
    (value: number | null) => answer(handInsOverridesCreate({ path: { id: row.hand_in }, body: { check: total.check, points: value, reason: reason.trim() } })),
    "sheet",
    "overrides",
  );
  const number = Number(points.replace(",", "."));
  const good = points.trim() !== "" && number >= 0 && number <= total.of;
  const send = (value: number | null) => give.mutate(value, { onSuccess: onClose });
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (good && reason.trim()) send(number);
      }}
    >
      <DialogTitle className="text-lg font-bold">
        {row.student}: {total.check}
      </DialogTitle>
      <p className="flex items-start gap-2 text-[14px] leading-snug">
        <VerdictMark verdict={total.verdict} size={18} />
        <span>
          Geduld gives <span className="num">{show(total.points)}</span> of {showPoints(total.of)}. <span className="block">{total.because}</span>
        </span>
      </p>
      <label className="flex items-center gap-2">
        Your points
        <input
          className={`num w-20 rounded border bg-sheet px-2 py-1 text-right ${good ? "border-rule" : "border-clay"}`}
          inputMode="decimal"
          value={points}
          aria-invalid={!good}
          onChange={(event) => setPoints(event.target.value)}
        />
        of <span className="num">{show(total.of)}</span>
      </label>
      <label className="block">
        Reason, which the student reads too
        <textarea className="mt-0.5 block h-20 w-full rounded border border-rule bg-sheet px-2 py-1" value={reason} maxLength={1000} onChange={(event) => setReason(event.target.value)} />
      </label>
      {before.length > 0 && (
        <ul className="max-h-32 overflow-auto border-t border-rule pt-1 text-[13px] text-soft" aria-label="What it was before">
          {before.map((item) => (
            <li key={`${item.by} ${item.made}`}>
              {showDay(item.made)}, {item.by === "teacher" ? "you" : "Geduld"}: {item.points === null ? "taken back" : showPoints(item.points)}. {item.reason}
            </li>
          ))}
        </ul>
      )}
      <Trouble error={give.error} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        {row.given[total.check] !== undefined && (
          <Button disabled={!reason.trim()} onClick={() => send(null)}>
            Take mine back
          </Button>
        )}
        <Button strong type="submit" disabled={!good || !reason.trim() || give.isPending}>
          Give these points
        </Button>
      </div>
    </form>
  );
}
