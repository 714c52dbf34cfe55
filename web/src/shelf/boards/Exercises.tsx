import { Link, useNavigate } from "react-router";

import { answer } from "../../api/client";
import { exercisesCreate, exercisesRowsList, parcelsCreate, rigsRetrieve, type Arrived, type Rig, type RigName } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { counted } from "../../model/numbers";
import { Button } from "../../ui/Button";
import { UploadButton } from "../../ui/UploadButton";
import { Board } from "../Board";
import { BrokenThing } from "../BrokenThing";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { FIRST_TEXT } from "../firstTexts";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

/** A check that a new exercise starts with: that it comes to rest, where the rig can move. */
function firstCheck(rig: Rig): string {
  const rests = rig.has_drive ? "drive" : rig.parts.find((part) => part.kind === "motor")?.name;
  return rests ? `check "Stands still at the end", 1 point:\n    at the end, ${rests} = 0 %\n` : 'check "Is short", 1 point:\n    program has at most 20 steps\n';
}

export function Exercises({ find, narrowed, count, rig, rigOf, onTag, onTrash, onTrouble, onBrought }: BoardProps & { onBrought: (came: Arrived) => void }) {
  const found = useRows("exercises", exercisesRowsList, 8, find);
  const navigate = useNavigate();
  const make = useChange(
    async ({ id, name }: RigName) => {
      const checks = firstCheck(await answer(rigsRetrieve({ path: { id } })));
      return answer(exercisesCreate({ body: { rig: id, title: "New exercise", reference: FIRST_TEXT("Reference", name), checks } }));
    },
    "exercises",
    "shelf",
  );
  const bring = useChange((file: File) => answer(parcelsCreate({ body: { file } })), "exercises", "behaviours", "rigs", "traces", "floors", "wordbooks", "shelf");
  return (
    <Board
      title="Exercises"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="An exercise is a task with checks. Start one, bring one as a zip, or load the demonstration data with a new ./start --data folder."
      add={
        <span className="flex gap-1.5">
          {rig && (
            <Button small onClick={() => make.mutate(rig, { onSuccess: (made) => void navigate(`/exercises/${made.id}`), onError: onTrouble })}>
              New exercise
            </Button>
          )}
          <UploadButton accept=".zip" onFiles={([file]) => file && bring.mutate(file, { onSuccess: onBrought, onError: onTrouble })}>
            {bring.isPending ? "Looking through it …" : "Bring an exercise"}
          </UploadButton>
        </span>
      }
    >
      {(exercise) => (
        <li key={exercise.id} className="px-4 py-2.5">
          <div className="flex items-center gap-3">
            <Link className={`min-w-0 flex-1 ${NAME}`} to={`/exercises/${exercise.id}`}>
              {exercise.title}
            </Link>
            <Link className="text-[14px] whitespace-nowrap text-leaf underline underline-offset-2" to={`/exercises/${exercise.id}/marks`} aria-label={`Mark sheet of ${exercise.title}`}>
              Mark sheet
            </Link>
            <RowMenu thing={{ kind: "exercises", id: exercise.id, name: exercise.title }} archived={exercise.archived} tags={exercise.tags} onTrash={onTrash} />
          </div>
          <p className="flex flex-wrap items-center gap-x-2 text-[14px] text-soft">
            <span>
              {counted(exercise.check_count, "check")}, {counted(exercise.case_count, "case")}, {counted(exercise.hand_in_count, "hand-in")}
              {rigOf(exercise.rig) && `, for ${exercise.rig_name}`}
            </span>
            <Tags tags={exercise.tags} archived={exercise.archived} onTag={onTag} />
          </p>
          {exercise.broken && <BrokenThing why={exercise.broken} />}
        </li>
      )}
    </Board>
  );
}
