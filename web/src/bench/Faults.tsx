import type { Rig } from "../api/generated";
import { faultsOf } from "../model/faults";
import { Button } from "../ui/Button";
import { FIELD } from "./SetUp";

/** What is wrong with the robot in a world: phrases to choose, and their numbers to change. */
export function Faults({ rig, faults, onFaults }: { rig: Rig; faults: string[]; onFaults: (faults: string[]) => void }) {
  const offered = faultsOf(rig).filter((phrase) => !faults.includes(phrase));
  return (
    <fieldset className="flex min-w-0 items-start gap-2" data-faults="">
      <legend className="sr-only">Faults of the robot</legend>
      <span className="w-20 shrink-0 pt-1" aria-hidden="true">Faults</span>
      <div className="min-w-0 flex-1 space-y-1.5">
        {faults.map((phrase, index) => (
          <div key={index} className="flex items-center gap-1.5">
            <input
              className={`${FIELD} min-w-0 flex-1`}
              value={phrase}
              aria-label={`Fault ${index + 1}`}
              onChange={(event) => onFaults(faults.with(index, event.target.value))}
            />
            <Button small onClick={() => onFaults(faults.toSpliced(index, 1))} aria-label={`Mend: ${phrase}`}>
              Mend
            </Button>
          </div>
        ))}
        <select className={`${FIELD} w-full`} value="" aria-label="Add a fault" onChange={(event) => onFaults([...faults, event.target.value])}>
          <option value="">{faults.length ? "add another one …" : "none; add one …"}</option>
          {offered.map((phrase) => (
            <option key={phrase} value={phrase}>
              {phrase}
            </option>
          ))}
        </select>
      </div>
    </fieldset>
  );
}
