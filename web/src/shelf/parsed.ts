/** A file's JSON; its text where it is none, so that the server says what is wrong with it. */
export function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
