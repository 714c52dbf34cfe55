import type { RecordingFile } from "../api/generated";

/** The address at which the first of some files is looked at, and then the others. */
export function importAddress(files: RecordingFile[]): string {
  return `/recordings/${files[0]?.id}${files.length > 1 ? `?with=${files.slice(1).map((file) => file.id).join(",")}` : ""}`;
}
