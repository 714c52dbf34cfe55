import type { RigName } from "../../api/generated";
import type { Find } from "../find";
import type { Thing } from "../useShelf";

/** What every board of the shelf is given. */
export interface BoardProps {
  find: Find;
  narrowed: boolean;
  count: number | null;
  /** The rig that new things are for; null where there is none yet. */
  rig: RigName | null;
  /** What a thing's rig is called, where there are several. */
  rigOf: (id: number) => string | undefined;
  onTag: (tag: string) => void;
  onTrash: (thing: Thing) => void;
  onTrouble: (error: unknown) => void;
}

/** The name of a thing, as a link to where it is looked at. */
export const NAME = "font-bold text-leaf underline-offset-4 hover:underline";
