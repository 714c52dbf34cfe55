/** The tags of a thing, small; a press looks for one. */
export function Tags({ tags, archived, onTag }: { tags: string[]; archived: boolean; onTag: (tag: string) => void }) {
  return (
    <>
      {archived && <span className="rounded border border-rule bg-sunk px-1.5 text-[12px]">archived</span>}
      {tags.map((tag) => (
        <button key={tag} type="button" className="min-h-[24px] min-w-[30px] rounded-full border border-rule px-2 text-[12px] text-soft hover:bg-sunk" title={`Show all with the tag ${tag}`} onClick={() => onTag(tag)}>
          {tag}
        </button>
      ))}
    </>
  );
}
