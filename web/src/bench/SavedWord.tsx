import type { Saving } from "../model/saver";

/** Whether what is typed is saved. */
export function SavedWord({ saving }: { saving: Saving }) {
  switch (saving.state) {
    case "saved":
      return <span className="text-[13px] text-soft">saved</span>;
    case "saving":
      return <span className="text-[13px] text-soft">saving …</span>;
    case "failed":
      return (
        <span role="alert" className="text-[13px] font-bold text-clay" title="The text stays here; saving is tried again every 5 s.">
          not saved yet
        </span>
      );
  }
}
