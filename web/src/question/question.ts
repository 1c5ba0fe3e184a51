import { useCallback, useMemo } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** Something named in the question, by id. */
export interface Named {
  id: string;
}

/** Whom the question is about: one account, or many. Everyone has no id. */
export interface Who extends Named {
  kind: 'account' | 'unit' | 'group' | 'everyone';
}

/** The question that the line on top asks; the address bar always holds it. */
export interface Question {
  who?: Who;
  what?: Named;
  where?: Named;
  /** An instant, a past day, or after a draft (`draft:7`); now when left out. */
  when?: string;
}

const SLOTS = { what: 'setting:', where: 'workspace:' } as const;
const WHO = /^(account|unit|group):(.+)$/s;

/** One account, as the question names it. */
export const account = (id: string): Who => ({ kind: 'account', id });

/** The whole organisation, as the question names it. */
export const EVERYONE: Who = { kind: 'everyone', id: '' };

/** Whom the question is about, as the address and the server write it. */
export const whoText = (who: Who): string => (who.kind === 'everyone' ? 'everyone' : `${who.kind}:${who.id}`);

/** The id of the draft after which is asked, where that is so. */
export function draftOf(when: string | undefined): number | undefined {
  return when?.startsWith('draft:') ? Number(when.slice('draft:'.length)) : undefined;
}

/** Whom an address names. */
export function readWho(text: string | null): Who | undefined {
  if (text === 'everyone') return EVERYONE;
  const parts = WHO.exec(text ?? '');
  return parts ? { kind: parts[1] as Who['kind'], id: parts[2] ?? '' } : undefined;
}

/** Reads the question from the address. */
export function readQuestion(search: string): Question {
  const params = new URLSearchParams(search);
  const named = (slot: keyof typeof SLOTS): Named | undefined => {
    const text = params.get(slot);
    return text?.startsWith(SLOTS[slot]) ? { id: text.slice(SLOTS[slot].length) } : undefined;
  };
  return {
    who: readWho(params.get('who')),
    what: named('what'),
    where: named('where'),
    when: params.get('when') ?? undefined,
  };
}

/** What of an address is no question, as a sentence; undefined where all of it is. */
export function unreadable(search: string): string | undefined {
  const params = new URLSearchParams(search);
  const question = readQuestion(search);
  const wrong = (['who', 'what', 'where'] as const).filter((slot) => params.get(slot) && question[slot] === undefined);
  if (wrong.length === 0) return undefined;
  const told = wrong.map((slot) => `${slot}=${params.get(slot) ?? ''}`);
  return `The address says ${told.join(' and ')}, which is nothing that can be asked about; it is left out. Choose again above.`;
}

/** Writes the question as the query of an address; what else stands there is kept. */
export function writeQuestion(question: Question, search = ''): string {
  const params = new URLSearchParams(search);
  if (question.who) params.set('who', whoText(question.who));
  else params.delete('who');
  for (const slot of Object.keys(SLOTS) as (keyof typeof SLOTS)[]) {
    const named = question[slot];
    if (named) params.set(slot, SLOTS[slot] + named.id);
    else params.delete(slot);
  }
  if (question.when) params.set('when', question.when);
  else params.delete('when');
  const text = params.toString().replaceAll('%3A', ':');
  return text === '' ? '' : `?${text}`;
}

/** The question of the address bar, and how to ask another. */
export function useQuestion(): [Question, (next: Question, path?: string) => void] {
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  const question = useMemo(() => readQuestion(search), [search]);
  const ask = useCallback(
    (next: Question, path?: string) => void navigate((path ?? pathname) + writeQuestion(next, path ? '' : search)),
    [navigate, pathname, search],
  );
  return [question, ask];
}
