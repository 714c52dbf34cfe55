import { Link } from "react-router";

import type { Arrived } from "../api/generated";

/** What came with an exercise: what is new on the shelf, and what was there already. */
export function Brought({ came }: { came: Arrived }) {
  return (
    <div role="status" className="rounded border border-leaf bg-leaf-wash px-3 py-2" data-brought={came.title}>
      <p>
        <Link className="font-bold text-leaf underline underline-offset-2" to={`/exercises/${came.exercise}`}>
          {came.title}
        </Link>{" "}
        is on your shelf.
      </p>
      {came.made.length > 0 && <p className="text-[14px]">New with it: {came.made.join(", ")}.</p>}
      {came.used.length > 0 && <p className="text-[14px]">There already, and the same: {came.used.join(", ")}.</p>}
      {came.unused.length > 0 && <p className="text-[14px]">Left out, as nothing in the exercise names them: {came.unused.join(", ")}.</p>}
    </div>
  );
}
