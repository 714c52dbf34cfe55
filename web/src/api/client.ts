import { client } from "./generated/client.gen";

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

/** What the server said went wrong. */
export async function problemFrom(response: Response): Promise<Problem> {
  const details = (await response.json().catch(() => ({}))) as Details & Record<string, unknown>;
  const title = details.title ?? "The server did not answer as expected.";
  const remedy = details.remedy || (details.detail !== title ? (details.detail ?? "") : "");
  return new Problem(response.status, details.code ?? "unknown", title, remedy, placeOf(details), details);
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

/** Sends a request of the generated client. Throws a Problem for an answer that is none. */
async function send(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const request = new Request(input, init);
  request.headers.set("X-CSRFToken", csrfToken());
  let response: Response;
  try {
    response = await fetch(request);
  } catch (reason) {
    if (request.signal.aborted) throw reason;
    throw new Problem(0, "no-server", "The server does not answer.", "Check that ./start is still running; your text stays here.", "");
  }
  if (!response.ok) throw await problemFrom(response);
  return response;
}

client.setConfig({ baseUrl: "", fetch: send, throwOnError: true });

export interface Answer<Data> {
  data: Data | undefined;
  response?: Response;
}

/** What an operation answers; failures are thrown. */
export async function answer<Data>(asked: Promise<Answer<Data>>): Promise<Data> {
  return (await asked).data as Data;
}

export interface Page {
  limit?: number;
  offset?: number;
}

/** The page after the one of a response; null behind the last. */
export function nextPage(response: Response | undefined): Page | null {
  const next = /<([^>]+)>; rel="next"/.exec(response?.headers.get("Link") ?? "")?.[1];
  if (!next) return null;
  const asked = new URL(next, location.href).searchParams;
  return { limit: Number(asked.get("limit")), offset: Number(asked.get("offset")) };
}

/** All rows of a list, page by page. */
export async function all<Row>(list: (query: Page) => Promise<Answer<Row[]>>): Promise<Row[]> {
  const rows: Row[] = [];
  let page: Page | null = {};
  while (page !== null) {
    const { data, response }: Answer<Row[]> = await list(page);
    rows.push(...(data ?? []));
    page = nextPage(response);
  }
  return rows;
}

const REPLACED_PAUSE = 200;
const MOST_REPLACED = 25;

/** Asks for a run. Where another tab's run has taken the place of this one, it is asked again, as long as it is wanted. */
export async function run<Data>(ask: () => Promise<Answer<Data>>, signal?: AbortSignal): Promise<Data> {
  for (let tries = 0; ; tries++) {
    try {
      return await answer(ask());
    } catch (problem) {
      const replaced = problem instanceof Problem && problem.code === "replaced";
      if (!replaced || signal?.aborted || tries >= MOST_REPLACED) throw problem;
      await new Promise((go) => setTimeout(go, REPLACED_PAUSE));
    }
  }
}
