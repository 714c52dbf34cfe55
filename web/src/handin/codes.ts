/** Who hands in what: the exercise's code and the student's own, as they were typed. */
export interface Codes {
  exercise: string;
  student: string;
}

const KEY = "geduld.codes";

/** A code without what people put between its letters. */
export function plain(code: string): string {
  return code.toUpperCase().replace(/[^\p{L}\p{N}]/gu, "");
}

/** The codes of this tab; another tab, or the next who sits here, has its own. */
export function keptCodes(): Codes | null {
  try {
    return JSON.parse(sessionStorage.getItem(KEY) ?? "null") as Codes | null;
  } catch {
    return null;
  }
}

export function keepCodes(codes: Codes | null): void {
  if (codes) sessionStorage.setItem(KEY, JSON.stringify(codes));
  else sessionStorage.removeItem(KEY);
}

export function headersOf(codes: Codes) {
  return { "X-Geduld-Exercise": plain(codes.exercise), "X-Geduld-Student": plain(codes.student) };
}
