import type { ReactNode } from "react";

/** Why something that is kept cannot be read, and a way to mend it. */
export function BrokenThing({ why, children }: { why: string; children?: ReactNode }) {
  return (
    <div className="mt-1 rounded border border-clay bg-clay-wash px-2.5 py-1.5 text-[13px] leading-snug">
      <p>
        <b>It cannot be read.</b> {why}
      </p>
      {children && <div className="mt-1.5">{children}</div>}
    </div>
  );
}
