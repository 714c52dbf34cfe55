/** A moment as a field for date and time takes it, in local time: 2026-11-20T16:00. */
export function toField(moment: string | null): string {
  if (!moment) return "";
  const date = new Date(moment);
  const local = new Date(date.getTime() - date.getTimezoneOffset() * 60_000);
  return local.toISOString().slice(0, 16);
}

/** The moment that a field for date and time holds; null where it holds none. */
export function fromField(text: string): string | null {
  const date = new Date(text);
  return text === "" || Number.isNaN(date.getTime()) ? null : date.toISOString();
}

/** A moment that reads the same everywhere: 20 Nov 2026, 16:00. */
export function showMoment(moment: string): string {
  return new Date(moment).toLocaleString("en-GB", { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" });
}
