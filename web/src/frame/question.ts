import { useCallback, useMemo } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** Something named in the question, by id. */
export interface Named {
  id: string;
}

/** The question that the line on top asks; the address bar always holds it. */
export interface Question {
  who?: Named;
  what?: Named;
  where?: Named;
  /** An instant to come; now when left out. */
  when?: string;
}

const SLOTS = { who: 'account:', what: 'setting:', where: 'workspace:' } as const;

/** Reads the question from the address. */
export function readQuestion(search: string): Question {
  const params = new URLSearchParams(search);
  const named = (slot: keyof typeof SLOTS): Named | undefined => {
    const text = params.get(slot);
    return text?.startsWith(SLOTS[slot]) ? { id: text.slice(SLOTS[slot].length) } : undefined;
  };
  return { who: named('who'), what: named('what'), where: named('where'), when: params.get('when') ?? undefined };
}

/** Writes the question as the query of an address; what else stands there is kept. */
export function writeQuestion(question: Question, search = ''): string {
  const params = new URLSearchParams(search);
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
