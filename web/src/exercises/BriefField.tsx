import { useState } from "react";

import { Brief } from "../ui/Brief";
import { Button } from "../ui/Button";

/** The brief as students read it, or as it is written. */
export function BriefField({ brief, onChange }: { brief: string; onChange: (brief: string) => void }) {
  const [writing, setWriting] = useState(false);
  return (
    <section aria-label="Brief">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-bold">Brief</h2>
        <Button small aria-pressed={writing} active={writing} onClick={() => setWriting(!writing)}>
          {writing ? "Done" : "Write"}
        </Button>
      </div>
      {writing ? (
        <>
          <textarea
            className="block h-40 w-full resize-y rounded border border-rule bg-sheet p-2 text-[14px] leading-snug"
            aria-label="Brief"
            autoFocus
            value={brief}
            onChange={(event) => onChange(event.target.value)}
          />
          <p className="text-[13px] text-soft">A blank line starts a paragraph, lines with - are a list, **words** are bold.</p>
        </>
      ) : brief.trim() ? (
        <Brief text={brief} />
      ) : (
        <p className="text-[14px] text-soft">What students are to do: not written yet.</p>
      )}
    </section>
  );
}
