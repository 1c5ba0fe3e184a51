import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

const RETRIES_MS = [100, 400];

/** A key that no other request has. */
function freshKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
}

/**
 * Sends a request. One that writes carries a key, so that it can be sent again where its answer was lost: the server carries out what
 * comes with one key once, and gives the same answer again.
 */
async function send(request: Request): Promise<Response> {
  if (request.method === 'GET') return fetch(request);
  request.headers.set('Idempotency-Key', freshKey());
  for (const wait of RETRIES_MS) {
    try {
      const got = await fetch(request.clone());
      if (got.status !== 503) return got;
    } catch (unreachable) {
      if (!(unreachable instanceof TypeError)) throw unreachable;
    }
    await new Promise((resolve) => setTimeout(resolve, wait));
  }
  return fetch(request);
}

/** The server's interface, typed by its own description. */
export const api = createClient<paths>({
  baseUrl: typeof window === 'undefined' ? '' : window.location.origin,
  fetch: send,
});

export type Schemas = components['schemas'];
export type Session = Schemas['Session'];
export type SearchResult = Schemas['SearchResult'];
export type Hit = Schemas['Hit'];
export type Climb = Schemas['ClimbView'];
export type ClimbViewModel = Schemas['ClimbViewModel'];
export type Standing = Schemas['Standing'];
export type RungKind = Schemas['RungKind'];
export type AccountView = Schemas['AccountView'];
export type AccountSetting = Schemas['AccountSetting'];
export type Setting = Schemas['Setting'];
export type Family = Schemas['FamilyView'];
export type PolicyLine = Schemas['PolicyLine'];
export type PolicyException = Schemas['ExceptionLine'];
export type PolicyView = Schemas['PolicyView'];
export type Policy = Schemas['Policy'];
export type Statement = Schemas['Statement'];
export type Assignment = Schemas['Assignment'];
export type Edit = Schemas['Edit'];
export type Ripple = Schemas['RippleView'];
export type RippleSummary = Schemas['RippleSummary'];
export type Effect = Schemas['Effect'];
export type PublishedChange = Schemas['PublishedChange'];
export type LogbookLine = Schemas['Logbook']['changes'][number];
export type PublishedReceipt = Schemas['PublishedReceipt'];
export type Problem = Schemas['Problem'];
export type Draft = Schemas['DraftView'];
export type Review = Schemas['Review'];
export type RippleCounts = Schemas['RippleCounts'];
export type Receipt = Schemas['Receipt'];
export type MatrixView = Schemas['MatrixView'];
export type MatrixRowData = MatrixView['rows'][number];
export type MatrixCellData = Schemas['MatrixCell'];
export type Distribution = Schemas['Distribution'];
export type DirectoryList = Schemas['DirectoryList'];
export type DirectoryRow = DirectoryList['rows'][number];
export type DirectoryEntry = Schemas['DirectoryEntry'];
export type AccountEntry = Schemas['AccountEntry'];
export type GroupEntry = Schemas['GroupEntry'];
export type UnitEntry = Schemas['UnitEntry'];
export type PolicyFor = Schemas['PolicyFor'];
export type PlanLine = Schemas['PlanLine'];
export type PlanView = Schemas['PlanView'];
export type LicenceGapView = Schemas['LicenceGapView'];
export type PasteResult = Schemas['PasteResult'];
export type ImportResult = Schemas['ImportResult'];

/** What the server said is wrong, or that it could not be reached. */
export class RefusedError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** What is wrong as sentences: each defect, or what the server says of the whole. */
export const problemText = (problem: Problem): string =>
  problem.defects?.map((d) => `It ${d.message}.`).join(' ') ?? problem.detail;

const troubled = new Set<() => void>();

/** Has something done whenever the server refuses what is no fault of the asker. @returns how to have it done no more */
export function onTrouble(then: () => void): () => void {
  troubled.add(then);
  return () => troubled.delete(then);
}

/** The data of an answer; throws {@link RefusedError} with the server's problem details. */
export async function unwrap<T>(asked: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  let got: { data?: T; error?: unknown };
  try {
    got = await asked;
  } catch {
    throw new RefusedError({
      type: 'urn:lean-ladder:unreachable',
      title: 'No answer',
      status: 0,
      detail: 'The server does not answer. Nothing that you typed is lost; start it with ./ladder up and try again.',
    });
  }
  if (got.data !== undefined) return got.data;
  const problem = got.error as Partial<Problem> | undefined;
  if ((problem?.status ?? 500) >= 500) troubled.forEach((then) => then());
  throw new RefusedError({
    type: problem?.type ?? 'urn:lean-ladder:failed',
    title: problem?.title ?? 'Failed',
    status: problem?.status ?? 500,
    detail: problem?.detail ?? 'The server answered with something else than expected; nothing was lost.',
    ...problem,
  });
}

/** Waits for an answer that may be empty; throws {@link RefusedError} likewise. */
export const expectEmpty = async (
  asked: Promise<{ data?: unknown; error?: unknown; response: Response }>,
): Promise<void> => {
  await unwrap(asked.then((got) => (got.response.ok ? { data: got.data ?? null } : got)));
};

/** What is to be said of a write that was refused, or of which no answer came; empty where there is nothing. */
export const problemOf = (error: Error | null): string =>
  error instanceof RefusedError ? problemText(error.problem) : (error?.message ?? '');

/** The JSON of an answer that could also have been a file. */
export const unwrapAs = <T>(asked: Promise<{ data?: unknown; error?: unknown }>): Promise<T> =>
  unwrap(asked) as Promise<T>;
