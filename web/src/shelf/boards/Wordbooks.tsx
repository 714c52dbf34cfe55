import { Link, useNavigate } from "react-router";

import { answer } from "../../api/client";
import { wordbooksCreate, wordbooksList, type RigName } from "../../api/generated";
import { useChange } from "../../api/hooks";
import { LANGUAGE_WORDS } from "../../model/languages";
import { counted } from "../../model/numbers";
import { Button } from "../../ui/Button";
import { UploadButton } from "../../ui/UploadButton";
import { Board } from "../Board";
import { RowMenu } from "../RowMenu";
import { Tags } from "../Tags";
import { FIRST_WORDS } from "../firstTexts";
import { useRows } from "../useRows";
import { type BoardProps, NAME } from "./props";

export function Wordbooks({ find, narrowed, count, rig, onTag, onTrash, onTrouble }: BoardProps) {
  const found = useRows("wordbooks", wordbooksList, 5, find);
  const navigate = useNavigate();
  const make = useChange((owner: RigName) => answer(wordbooksCreate({ body: { rig: owner.id, text: FIRST_WORDS(owner.name) } })), "wordbooks", "shelf");
  const bring = useChange(
    async ({ owner, files }: { owner: RigName; files: File[] }) => {
      for (const file of files) await answer(wordbooksCreate({ body: { rig: owner.id, text: await file.text() } }));
    },
    "wordbooks",
    "shelf",
  );
  return (
    <Board
      title="Wordbooks"
      count={count}
      found={found}
      narrowed={narrowed}
      empty="A wordbook says what the words of your class's Python or C programs mean, so that they can be checked."
      add={
        rig && (
          <span className="flex gap-1.5">
            <Button small onClick={() => make.mutate(rig, { onSuccess: (made) => void navigate(`/wordbooks/${made.id}`), onError: onTrouble })}>
              New wordbook
            </Button>
            <UploadButton accept=".geduld,.txt" multiple onFiles={(files) => bring.mutate({ owner: rig, files }, { onError: onTrouble })}>
              Import wordbooks
            </UploadButton>
          </span>
        )
      }
    >
      {(book) => (
        <li key={book.id} className="flex items-center gap-3 px-4 py-2">
          <span className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
            <Link className={NAME} to={`/wordbooks/${book.id}`}>
              {book.title}
            </Link>
            <Tags tags={book.tags} archived={book.archived} onTag={onTag} />
          </span>
          <span className="text-[13px] whitespace-nowrap text-soft">
            {LANGUAGE_WORDS[book.language]}, {counted(book.words.length, "word")}
          </span>
          <RowMenu thing={{ kind: "wordbooks", id: book.id, name: book.title }} archived={book.archived} tags={book.tags} onTrash={onTrash} />
        </li>
      )}
    </Board>
  );
}
