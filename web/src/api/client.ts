/** What the server answers when something went wrong: problem details with a code, a remedy and a place. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string,
    readonly place: string,
    /** What else the server tells about it. */
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

interface Details {
  code?: string;
  title?: string;
  detail?: string;
  remedy?: string;
  file?: string;
  row?: number | null;
  column?: number | null;
  path?: string;
}

function placeOf(details: Details): string {
  const parts = [details.file, details.row ? `row ${details.row}` : "", details.column ? `column ${details.column}` : "", details.path];
  return parts.filter(Boolean).join(", ");
}

async function problemFrom(response: Response): Promise<Problem> {
  const details = (await response.json().catch(() => ({}))) as Details & Record<string, unknown>;
  const title = details.title ?? "The server did not answer as expected.";
  const remedy = details.remedy || (details.detail !== title ? (details.detail ?? "") : "");
  return new Problem(response.status, details.code ?? "unknown", title, remedy, placeOf(details), details);
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

async function ask(method: string, path: string, body: BodyInit | undefined, json: boolean, signal?: AbortSignal): Promise<Response> {
  const headers: Record<string, string> = { "X-CSRFToken": csrfToken() };
  if (json) headers["Content-Type"] = "application/json";
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, { method, headers, body, signal });
  } catch (reason) {
    if (signal?.aborted) throw reason;
    throw new Problem(0, "no-server", "The server does not answer.", "Check that ./start is still running; your text stays here.", "");
  }
  if (!response.ok) throw await problemFrom(response);
  return response;
}

async function send(method: string, path: string, body: BodyInit | undefined, json: boolean, signal?: AbortSignal): Promise<unknown> {
  const response = await ask(method, path, body, json, signal);
  return response.status === 204 ? null : response.json();
}

/** All rows of a list, page by page. */
async function all<Row>(path: string, signal?: AbortSignal): Promise<Row[]> {
  const rows: Row[] = [];
  let next: string | null = path;
  while (next !== null) {
    const response: Response = await ask("GET", next, undefined, false, signal);
    rows.push(...((await response.json()) as Row[]));
    const link = /<([^>]+)>; rel="next"/.exec(response.headers.get("Link") ?? "")?.[1];
    next = link ? path.split("?")[0] + new URL(link).search : null;
  }
  return rows;
}

const REPLACED_PAUSE = 200;
const MOST_REPLACED = 25;

/** Asks for a run. Where another tab's run has taken the place of this one, it is asked again, as long as it is wanted. */
async function run<Answer>(ask: () => Promise<unknown>, signal?: AbortSignal): Promise<Answer> {
  for (let tries = 0; ; tries++) {
    try {
      return (await ask()) as Answer;
    } catch (problem) {
      const replaced = problem instanceof Problem && problem.code === "replaced";
      if (!replaced || signal?.aborted || tries >= MOST_REPLACED) throw problem;
      await new Promise((go) => setTimeout(go, REPLACED_PAUSE));
    }
  }
}

export const api = {
  all,
  bench: <Answer>(question: unknown, signal?: AbortSignal) =>
    run<Answer>(() => send("POST", "bench/run", JSON.stringify(question), true, signal), signal),
  recording: <Answer>(path: string, signal?: AbortSignal) => run<Answer>(() => send("GET", path, undefined, false, signal), signal),
  get: <T>(path: string, signal?: AbortSignal) => send("GET", path, undefined, false, signal) as Promise<T>,
  post: <T>(path: string, value: unknown, signal?: AbortSignal) =>
    send("POST", path, JSON.stringify(value), true, signal) as Promise<T>,
  patch: <T>(path: string, value: unknown) => send("PATCH", path, JSON.stringify(value), true) as Promise<T>,
  remove: (path: string) => send("DELETE", path, undefined, false),
  upload: <T>(path: string, form: FormData) => send("POST", path, form, false) as Promise<T>,
};
