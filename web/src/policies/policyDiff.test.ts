import { describe, expect, it } from 'vitest';
import type { Policy, Problem } from '../api/client';
import { addition, editsBetween, refusals, formOf } from './policyDiff';
import { numberOr } from '../parts/ValueControl';

const policy: Policy = {
  id: 'p1',
  name: 'Quiet bridge',
  statements: [
    { setting: 'chat.private', set: false, lock: true },
    { setting: 'files.share', cap: 'firms' },
    { setting: 'files.share', set: 'own' },
  ],
  assignments: [{ include: 'unit:u2' }, { except: 'group:g1' }],
};

describe('edits between two sheets', () => {
  const before = formOf(policy);

  it('are none when nothing was changed', () => {
    expect(editsBetween(before, formOf(policy))).toEqual([]);
  });

  it('say only what was changed, silence and withdrawal before new words', () => {
    const after = {
      ...before,
      name: 'Quiet ships',
      paused: true,
      lines: before.lines
        .filter((l) => l.says !== 'cap')
        .map((l) => (l.says === 'lock' ? { ...l, says: 'set' as const } : l)),
      assignments: [{ include: 'unit:u2', until: '2026-12-01T00:00:00Z' }, { except: 'group:g1' }],
    };
    expect(editsBetween(before, after).map((p) => p.edit)).toEqual([
      { kind: 'amend-policy', policy: 'p1', members: { name: 'Quiet ships' } },
      { kind: 'amend-policy', policy: 'p1', members: { state: 'paused' } },
      { kind: 'remove-statement', policy: 'p1', setting: 'files.share', says: 'cap' },
      { kind: 'put-statement', policy: 'p1', statement: { setting: 'chat.private', set: false } },
      { kind: 'remove-assignment', policy: 'p1', assignment: { include: 'unit:u2' } },
      { kind: 'put-assignment', policy: 'p1', assignment: { include: 'unit:u2', until: '2026-12-01T00:00:00Z' } },
    ]);
  });

  it('take a refusal back to the line it is about', () => {
    const problem = (pointer: string): Problem => ({
      type: '',
      title: '',
      status: 422,
      detail: '',
      defects: [{ pointer, message: 'is wrong' }],
    });
    const after = { ...before, lines: before.lines.map((l) => ({ ...l, value: 7 })) };
    const planned = editsBetween(before, after);
    expect([...refusals(problem('/edits/1/statement/cap'), planned, after)]).toEqual([['cap files.share', 'is wrong']]);
    const fresh = addition(before);
    expect([...refusals(problem('/edits/0/policy/statements/2/set'), fresh, before)]).toEqual([
      ['set files.share', 'is wrong'],
    ]);
    expect([...refusals(problem('/edits/0/policy/assignments/1/except'), fresh, before)]).toEqual([
      ['group:g1', 'is wrong'],
    ]);
    expect([...refusals(problem('/edits/0/policy/name'), fresh, before)]).toEqual([['name', 'is wrong']]);
  });
});

it('keeps a number that cannot be read as it was typed', () => {
  expect(numberOr('60')).toBe(60);
  expect(numberOr('-3')).toBe(-3);
  expect(numberOr('6 or 7')).toBe('6 or 7');
  expect(numberOr('6.5')).toBe('6.5');
});
