/** A question that was asked in this browser: its query as the address has it, and how it reads. */
export interface RecentQuery {
  query: string;
  words: string;
}

const KEY = 'asked';
const MOST = 8;

/** The questions asked last in this browser, the newest first. */
export function recentQueries(): RecentQuery[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter(isAsked) : [];
  } catch (error) {
    if (error instanceof SyntaxError) return [];
    throw error;
  }
}

/** Remembers that a question was asked; the same question is kept once. */
export function rememberQuery(asked: RecentQuery): void {
  const others = recentQueries().filter((a) => a.query !== asked.query);
  localStorage.setItem(KEY, JSON.stringify([asked, ...others].slice(0, MOST)));
}

const isAsked = (one: unknown): one is RecentQuery =>
  typeof one === 'object' &&
  one !== null &&
  typeof (one as RecentQuery).query === 'string' &&
  typeof (one as RecentQuery).words === 'string';
