/** What a test's server is sent. */
export interface Sent {
  method: string;
  path: string;
  query: URLSearchParams;
  body: unknown;
  /** Its Idempotency-Key, where it carries one. */
  key: string | null;
}

/** An answer that is no 200. */
export class Status {
  constructor(
    readonly status: number,
    readonly body: unknown,
  ) {}
}

type Answer = (sent: Sent) => unknown;

let answers: Record<string, Answer> = {};
let sent: Sent[] = [];

/**
 * Serves answers by method and path, such as `POST /drafts`; all else is not reached, as if the server were down.
 *
 * @returns what it is sent, as it comes
 */
export function serve(these: Record<string, Answer>): Sent[] {
  answers = these;
  sent = [];
  return sent;
}

async function answered(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const request = new Request(input, init);
  const url = new URL(request.url);
  const text = await request.text();
  const path = decodeURIComponent(url.pathname.replace('/api/v1', ''));
  const one: Sent = {
    method: request.method,
    path,
    query: url.searchParams,
    key: request.headers.get('Idempotency-Key'),
    body: request.headers.get('Content-Type')?.includes('json') ? JSON.parse(text) : text,
  };
  const answer = answers[`${request.method} ${path}`];
  if (!answer) throw new TypeError(`Nothing serves ${request.method} ${path}`);
  sent.push(one);
  const given = await answer(one);
  const [status, body] = given instanceof Status ? [given.status, given.body] : [200, given];
  return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
}

globalThis.fetch = answered;
