import { Link } from "react-router";

import { useHandIns } from "../api/hooks";
import type { Exercise } from "../api/types";
import { showDay } from "../model/numbers";

/** What came in, newest upload of each student. */
export function HandIns({ exercise }: { exercise: Exercise }) {
  const handIns = useHandIns(exercise.id).data ?? [];
  return (
    <section aria-label="Hand-ins">
      <h2 className="font-bold">Hand-ins</h2>
      <p className="text-[13px] text-soft">One .geduld file a student; the file&apos;s name is the student.</p>
      <ul className="mt-1 divide-y divide-rule rounded border border-rule bg-sheet">
        {handIns.map((item) => (
          <li key={item.id} className="flex items-baseline gap-2 px-3 py-1 text-[14px]">
            <Link className="flex-1 truncate text-leaf underline-offset-2 hover:underline" to={`/hand-ins/${item.id}`}>
              {item.student}
            </Link>
            <span className="text-[13px] text-soft">{showDay(item.received)}</span>
          </li>
        ))}
        {!handIns.length && <li className="px-3 py-1.5 text-[14px] text-soft">None yet: upload files above.</li>}
      </ul>
    </section>
  );
}
