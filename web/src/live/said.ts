import type { LiveReading } from "../api/generated";
import { show } from "../model/numbers";

/** A reading as it is now, with its unit. */
export function said(reading: LiveReading): string {
  if (reading.text !== null) return `"${reading.text}"`;
  if (reading.value === null) return "absent";
  return reading.contact ? (reading.value ? "pressed" : "released") : show(reading.value, reading.unit, 1);
}

/** The least or the greatest that was seen; nothing where that says nothing. */
export function seen(reading: LiveReading, value: number | null): string {
  return value === null || reading.contact || reading.text !== null ? "" : show(value, "", 1);
}
