import { expect, it } from 'vitest';
import type { PolicyException } from '../api/client';
import { sentence, windowOf } from './Exceptions';

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
