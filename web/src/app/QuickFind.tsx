import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, DialogTitle } from "@headlessui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useState } from "react";
import { useNavigate } from "react-router";

import { answer } from "../api/client";
import { findList, type Called, type FoundKind } from "../api/generated";
import { VIEWS, WORDS } from "../shelf/useShelf";
import { Overlay } from "../ui/Overlay";
import { Trouble } from "../ui/Trouble";
import { useSettled } from "../ui/useSettled";

const SETTLES_MS = 80;
const OTHERS: Partial<Record<FoundKind, { view: string; word: string }>> = {
  classes: { view: "/classes/", word: "class" },
  "hand-ins": { view: "/hand-ins/", word: "hand-in" },
};

function placeOf({ kind, id, name }: Called): string {
  const view = OTHERS[kind]?.view ?? VIEWS[kind as keyof typeof VIEWS];
  return view ? `${view}${id}` : `/?search=${encodeURIComponent(name)}`;
}

function wordOf(kind: FoundKind): string {
  return OTHERS[kind]?.word ?? WORDS[kind as keyof typeof WORDS];
}

/** Opens anything by its name: a few letters, an arrow, Enter. */
export function QuickFind({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const navigate = useNavigate();
  const search = useSettled(text.trim(), SETTLES_MS);
  const found = useQuery({
    queryKey: ["find", search],
    queryFn: ({ signal }) => answer(findList({ query: { search }, signal })),
    enabled: search !== "",
    placeholderData: keepPreviousData,
  });
  const items = search ? (found.data ?? []) : [];
  const open = (item: Called | null) => {
    if (!item) return;
    onClose();
    void navigate(placeOf(item));
  };
  // who types a name and Enter at one go means what is found for the whole of it, not what stands there meanwhile
  const [eager, setEager] = useState(false);
  const comes = text.trim() !== search || (search !== "" && (found.isPending || found.isPlaceholderData));
  const first = eager && !comes ? items[0] : undefined;
  const openFirst = useEffectEvent(open);
  useEffect(() => {
    if (first) openFirst(first);
  }, [first]);
  return (
    <Overlay onClose={onClose} high className="w-[min(560px,95vw)] p-3">
      <DialogTitle className="sr-only">Open by name</DialogTitle>
      <Combobox<Called | null> value={null} onChange={open}>
        <ComboboxInput
          className="w-full rounded border border-rule bg-sheet px-3 py-2"
          aria-label="Open by name"
          placeholder="A name: of an exercise, a behaviour, a class, a student …"
          autoFocus
          autoComplete="off"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setEager(false);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter" && comes) {
              event.preventDefault();
              setEager(true);
            }
            if (event.key === "Escape") onClose(); // the list takes the key for itself otherwise
          }}
        />
        <ComboboxOptions static className="mt-2 max-h-[50vh] overflow-auto">
          {items.map((item) => (
            <ComboboxOption key={`${item.kind} ${item.id}`} value={item} className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1.5 data-focus:bg-leaf-wash">
              <span className="w-20 shrink-0 text-[13px] text-soft">{wordOf(item.kind)}</span>
              <span className="min-w-0 flex-1 truncate font-bold">{item.name}</span>
              {item.of && <span className="truncate text-[13px] text-soft">{item.of}</span>}
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
      <Trouble error={found.error} />
      <p role="status" className="px-3 pt-1 text-[13px] text-soft">
        {!search ? "Arrow keys choose, Enter opens, Escape closes." : found.isSuccess && !items.length ? "Nothing is called so." : ""}
      </p>
    </Overlay>
  );
}
