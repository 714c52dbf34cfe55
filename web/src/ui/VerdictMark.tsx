import type { VerdictWord } from "../api/generated";

/** A verdict as a shape: it reads without colour. */
export function VerdictMark({ verdict, size = 16 }: { verdict: VerdictWord; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" aria-hidden="true" className="shrink-0">
      {shape(verdict)}
    </svg>
  );
}

function shape(verdict: VerdictWord) {
  switch (verdict) {
    case "pass":
      return (
        <>
          <circle cx="8" cy="8" r="7" fill="var(--leaf)" />
          <path d="M4.5 8.2 7 10.7 11.6 5.6" stroke="var(--sheet)" strokeWidth="2" fill="none" />
        </>
      );
    case "part":
      return (
        <>
          <circle cx="8" cy="8" r="6.2" fill="var(--sheet)" stroke="var(--ochre)" strokeWidth="1.6" />
          <path d="M8 1.8a6.2 6.2 0 0 0 0 12.4z" fill="var(--ochre)" />
        </>
      );
    case "fail":
      return (
        <>
          <path d="M8 .6 15.4 8 8 15.4.6 8z" fill="var(--clay)" />
          <path d="M4.8 8h6.4" stroke="var(--sheet)" strokeWidth="2" />
        </>
      );
    case "not exercised":
      return <circle cx="8" cy="8" r="6" fill="none" stroke="var(--soft)" strokeWidth="1.6" strokeDasharray="2.4 2.2" />;
    case "not read":
      return (
        <>
          <path d="M3 2.5h7l3 3v8H3z" fill="none" stroke="var(--soft)" strokeWidth="1.5" strokeLinejoin="round" />
          <path d="m5.6 7 4.8 4.6m0-4.6-4.8 4.6" stroke="var(--soft)" strokeWidth="1.5" />
        </>
      );
    case "not certain":
      return (
        <>
          <rect x="2" y="2" width="12" height="12" rx="2" fill="none" stroke="var(--soft)" strokeWidth="1.6" />
          <path d="M6 6.4c0-2.6 4-2.6 4-.2 0 1.5-2 1.6-2 3.2" stroke="var(--soft)" strokeWidth="1.5" fill="none" />
          <circle cx="8" cy="11.7" r="1" fill="var(--soft)" />
        </>
      );
  }
}
