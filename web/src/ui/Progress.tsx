import type { Job } from "../api/generated";
import { Button } from "./Button";

/** How far some work is, and a way to stop it. */
export function Progress({ job, word, onCancel }: { job: Job; word: string; onCancel: () => void }) {
  return (
    <span className="flex items-center gap-2 text-[14px]" role="status">
      <span className="num">
        {job.resumed && "Taken up again: "}
        {word} {job.done} of {job.of || "…"}
      </span>
      <progress className="h-2 w-36 accent-[var(--leaf)]" value={job.done} max={job.of || 1} aria-label={`${word}, how far`} />
      <Button small onClick={onCancel}>
        Cancel
      </Button>
    </span>
  );
}
