import { problemFrom } from "../api/client";

/** Fetches a file and hands it to the browser to be saved. Throws a Problem where the server has none. */
export async function download(address: string, headers: Record<string, string> = {}): Promise<void> {
  const response = await fetch(address, { headers });
  if (!response.ok) throw await problemFrom(response);
  const name = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "exercise.zip";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = decodeURIComponent(name);
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
