import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";

import { answer, Problem } from "../api/client";
import { deskRetrieve } from "../api/generated";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";
import { type Codes, headersOf, keepCodes, keptCodes } from "./codes";
import { DeskView } from "./DeskView";

/** Where students hand in, without an account: with the exercise's code and their own. */
export function HandInPage() {
  const [codes, setCodes] = useState<Codes | null>(keptCodes);
  const client = useQueryClient();
  const desk = useQuery({
    queryKey: ["desk", codes],
    queryFn: ({ signal }) => answer(deskRetrieve({ headers: headersOf(codes ?? { exercise: "", student: "" }), signal })),
    enabled: codes !== null,
    retry: (count, problem) => count < 3 && problem instanceof Problem && problem.status === 0,
  });
  const enter = (next: Codes | null) => {
    keepCodes(next);
    client.removeQueries({ queryKey: ["desk"] });
    setCodes(next);
  };
  return (
    <div className="mx-auto max-w-[720px] px-4 pb-16 text-[16px]">
      <header className="flex items-center gap-2 border-b border-rule py-2.5">
        <img src="/leaf.svg" alt="" width="20" height="20" />
        <span className="text-lg font-bold tracking-tight">Geduld</span>
        <span className="flex-1" />
        {codes && desk.data && (
          <>
            <span className="truncate text-[14px] text-soft">{desk.data.student}</span>
            <Button small onClick={() => enter(null)}>
              Leave
            </Button>
          </>
        )}
      </header>
      <main>
        {codes && desk.data ? (
          <DeskView key={`${codes.exercise} ${codes.student}`} codes={codes} desk={desk.data} />
        ) : (
          <Enter waiting={codes !== null && desk.isFetching} error={codes ? desk.error : null} onEnter={enter} />
        )}
      </main>
    </div>
  );
}

const FIELD = "num w-full rounded border border-rule bg-sheet px-3 py-2.5 text-[18px] uppercase";

function Enter({ waiting, error, onEnter }: { waiting: boolean; error: unknown; onEnter: (codes: Codes) => void }) {
  const [exercise, setExercise] = useState(new URLSearchParams(location.search).get("exercise") ?? "");
  const [student, setStudent] = useState("");
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (exercise.trim() && student.trim()) onEnter({ exercise, student });
  };
  return (
    <form className="mt-8 space-y-4" onSubmit={send}>
      <h1 className="text-2xl font-bold">Hand in</h1>
      <p>Your teacher tells you the code of the exercise; your own code stands on your slip. Dashes and small letters do not matter.</p>
      <label className="block">
        <span className="font-bold">Code of the exercise</span>
        <input className={FIELD} value={exercise} maxLength={20} autoComplete="off" autoCapitalize="characters" spellCheck={false} autoFocus={!exercise} onChange={(event) => setExercise(event.target.value)} />
      </label>
      <label className="block">
        <span className="font-bold">Your own code</span>
        <input className={FIELD} value={student} maxLength={20} autoComplete="off" autoCapitalize="characters" spellCheck={false} autoFocus={exercise !== ""} onChange={(event) => setStudent(event.target.value)} />
      </label>
      <Trouble error={error} />
      <Button strong type="submit" disabled={waiting} className="w-full py-3 text-[17px]">
        {waiting ? "Looking …" : "Go on"}
      </Button>
    </form>
  );
}
