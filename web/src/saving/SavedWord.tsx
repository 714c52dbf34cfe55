import { Problem } from "../api/client";
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
        <span role="alert" className="text-[13px] font-bold text-clay" title="The text stays in this browser, also when the page is closed; saving is tried again by itself.">
          not saved yet
        </span>
      );
    case "refused":
      return (
        <span role="alert" className="text-[13px] font-bold text-clay" title={saving.error instanceof Problem ? `${saving.error.message} ${saving.error.remedy}` : undefined}>
          not saved: mend it first
        </span>
      );
    case "conflict":
      return <span className="text-[13px] font-bold text-ochre">changed elsewhere</span>;
  }
}
