import { type Codes, plain } from "./codes";

/** What was typed, and what is on its way: both outlive a closed tab and a lost network. */
export interface Draft {
  text: string;
  file: string;
  /** The browser's own name for what is to be handed in; null while it is still being written. */
  sending: string | null;
}

const NOTHING: Draft = { text: "", file: "", sending: null };

function keyOf(codes: Codes): string {
  return `geduld.draft.${plain(codes.exercise)}.${plain(codes.student)}`;
}

export function keptDraft(codes: Codes): Draft {
  try {
    return { ...NOTHING, ...(JSON.parse(localStorage.getItem(keyOf(codes)) ?? "{}") as Partial<Draft>) };
  } catch {
    return NOTHING;
  }
}

export function keepDraft(codes: Codes, draft: Draft): void {
  try {
    localStorage.setItem(keyOf(codes), JSON.stringify(draft));
  } catch {
    // a full or forbidden store: the page itself still has it
  }
}

/** A name that no other try has. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, "0")).join("");
}
