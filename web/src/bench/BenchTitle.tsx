import type { ReactNode } from "react";
import { Link } from "react-router";

/** What is on the bench, where it comes from, and at the right how it stands. */
export function BenchTitle({ title, to, from, children }: { title: string; to: string; from: string; children?: ReactNode }) {
  return (
    <div className="flex items-center gap-2">
      <div className="min-w-0 flex-1">
        <h1 className="truncate text-[17px] leading-tight font-bold" title={title}>
          {title}
        </h1>
        <Link className="text-[13px] text-leaf underline underline-offset-2" to={to}>
          {from}
        </Link>
      </div>
      {children}
    </div>
  );
}
