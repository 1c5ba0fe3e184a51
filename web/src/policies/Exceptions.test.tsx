import { fireEvent, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { PolicyException } from '../api/client';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { Exceptions, ORDERS, sentence, windowOf } from './Exceptions';

const one: PolicyException = {
  policy: 'p',
  policyName: 'Bridge under way',
  kind: 'left-out',
  target: 'group:g',
  whom: 'Safety stewards',
  accounts: 6,
  state: 'holds',
};
const year = new Date().getFullYear();

it('reads as a sentence', () => {
  expect(sentence(one)).toBe('Safety stewards, left out of Bridge under way');
  expect(sentence({ ...one, kind: 'named' })).toBe('Safety stewards, named in Bridge under way');
});

it('says when it counts, and when it no longer does', () => {
  const until = `${year}-12-15T00:00:00Z`;
  const from = `${year}-12-01T00:00:00Z`;
  expect(windowOf(one, 'UTC')).toBe('always');
  expect(windowOf({ ...one, from, until }, 'UTC')).toMatch(/^until .*15 Dec/);
  expect(windowOf({ ...one, from, until, state: 'early' }, 'UTC')).toMatch(/^from .*1 Dec.* until .*15 Dec/);
  expect(windowOf({ ...one, until, state: 'over' }, 'UTC')).toMatch(/^ended .*15 Dec/);
  expect(windowOf({ ...one, state: 'paused' }, 'UTC')).toBe('policy paused');
});

const list = (words: string[], exceptions: PolicyException[], chosen?: string) => {
  serve({ 'GET /exceptions': () => ({ exceptions }) });
  const onOpen = vi.fn();
  const onClear = vi.fn();
  render(
    <Around>
      <Exceptions zone="UTC" words={words} chosen={chosen} onOpen={onOpen} onClear={onClear} />
    </Around>,
  );
  return { onOpen, onClear };
};
const MADE = { change: 4, at: `${year}-11-23T14:20:00Z`, author: 'Vera Quill' };

it('says how many there are and which of them fit what is typed', async () => {
  const { onClear } = list(['stewards'], [one, { ...one, whom: 'Shipyard contractors' }]);
  expect(await screen.findByText(/1 exception of 2 shown: those that hold “stewards”/)).toBeInTheDocument();
  fireEvent.click(screen.getByText('Show all'));
  expect(onClear).toHaveBeenCalled();
});

it('teaches what an exception is where there is none', async () => {
  list([], []);
  expect(await screen.findByText('No policy leaves anybody out, and none names a single account.')).toBeInTheDocument();
});

it('sorts by age, and by what the headings say', () => {
  const old = { ...one, whom: 'B', policyName: 'Z', accounts: 1, made: MADE };
  const young = {
    ...one,
    whom: 'A',
    policyName: 'Y',
    accounts: 5,
    made: { change: 9, at: `${year}-11-24T00:00:00Z`, author: 'Rui Mareda' },
  };
  const drafted = { ...one, whom: 'C', policyName: 'X', accounts: 9 };
  const sorted = (by: keyof typeof ORDERS) =>
    [drafted, young, old]
      .sort(ORDERS[by])
      .map((e) => e.whom)
      .join('');
  expect(sorted('Since')).toBe('BAC');
  expect(sorted('Whom')).toBe('ABC');
  expect(sorted('Policy')).toBe('CAB');
  expect(sorted('Accounts')).toBe('CAB');
  expect(sorted('By')).toBe('ABC');
});
