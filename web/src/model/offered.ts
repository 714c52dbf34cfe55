interface Kept {
  id: number;
  archived: boolean;
}

/** What can be chosen: all that is not in the archive, and what is chosen already. */
export function offered<Thing extends Kept>(things: Thing[], chosen?: number | null): Thing[] {
  return things.filter((thing) => !thing.archived || thing.id === chosen);
}
