import { useCallback, useState } from 'react';
import { now } from '../text/clock';

/** What somebody has put away, by the key of the matter: until an instant, or for good. */
export type Snoozed = Record<string, string>;

/** For good: the same matter never comes back; one that is another tomorrow has another key. */
export const DONE = 'done';

const NAME = 'today.name';
const MOST = 500;

const stored = (key: string): string | undefined => {
  try {
    return window.localStorage.getItem(key) ?? undefined;
  } catch {
    return undefined;
  }
};

const store = (key: string, value: string) => {
  try {
    window.localStorage.setItem(key, value);
  } catch {
    // A browser that keeps nothing shows everything again next time.
  }
};

/** Whether a matter is put away now. */
export const isSnoozed = (away: Snoozed, key: string, now: number): boolean => {
  const until = away[key];
  return until === DONE || (until !== undefined && Date.parse(until) > now);
};

/** Who looks at this browser's Today: a name that was chosen here, else that under which changes are published. */
export function useName(otherwise: string): [string, (name: string) => void] {
  const [name, setName] = useState(() => stored(NAME));
  const choose = useCallback((next: string) => {
    store(NAME, next);
    setName(next);
  }, []);
  return [name ?? otherwise, choose];
}

function readAway(name: string): Snoozed {
  try {
    return JSON.parse(stored(`today.away.${name}`) ?? '{}') as Snoozed;
  } catch {
    return {};
  }
}

/** What one has put away, and how to put more away. */
export function useSnoozed(name: string): [Snoozed, (key: string, until: string) => void, () => void] {
  const [kept, setKept] = useState<{ name: string; away: Snoozed }>();
  const away = kept?.name === name ? kept.away : readAway(name);
  const put = useCallback(
    (key: string, until: string) => {
      const all = Object.entries({ ...readAway(name), [key]: until });
      const next = Object.fromEntries(all.slice(-MOST));
      store(`today.away.${name}`, JSON.stringify(next));
      setKept({ name, away: next });
    },
    [name],
  );
  const bring = useCallback(() => {
    store(`today.away.${name}`, '{}');
    setKept({ name, away: {} });
  }, [name]);
  return [away, put, bring];
}

/** When one was here before, as it was when this tab was opened; nothing for the first time. */
export function lastVisit(name: string): string | undefined {
  const key = `today.since.${name}`;
  try {
    const kept = window.sessionStorage.getItem(key);
    if (kept !== null) return kept === '' ? undefined : kept;
    const before = stored(`today.seen.${name}`) ?? '';
    window.sessionStorage.setItem(key, before);
    return before === '' ? undefined : before;
  } catch {
    return undefined;
  }
}

/** Notes that one is here. */
export const markVisited = (name: string) => store(`today.seen.${name}`, now());
