import { Problem } from "../api/client";
import type { Saving } from "../model/saver";

/** Why what was changed is not saved: what the server said, and at which place. */
export function NotSaved({ saving }: { saving: Saving }) {
  if (saving.state !== "refused" || !(saving.error instanceof Problem)) return null;
  return (
    <p className="border-b border-clay bg-clay-wash px-3 py-1.5 text-[14px]" role="alert">
      Not saved yet: {saving.error.message} {saving.error.remedy} {saving.error.place && <span className="num">({saving.error.place})</span>}
    </p>
  );
}
