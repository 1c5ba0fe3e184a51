import { expect, it } from 'vitest';
import { readQuestion, unreadable, writeQuestion } from './question';

it('keeps the question in the address, and what else stands there', () => {
  const question = {
    who: { kind: 'account' as const, id: 'mirela.osk' },
    what: { id: 'chat.private' },
    where: { id: 'w 1/ä' },
    when: '2026-12-01T00:00:00Z',
  };
  expect(readQuestion(writeQuestion(question))).toEqual(question);
  expect(writeQuestion({ who: { kind: 'account', id: 'a' } }, '?where=workspace:x&tab=2')).toBe('?tab=2&who=account:a');
  expect(writeQuestion({})).toBe('');
  expect(readQuestion(writeQuestion({ who: { kind: 'everyone', id: '' }, when: 'draft:7' }))).toMatchObject({
    who: { kind: 'everyone' },
    when: 'draft:7',
  });
  expect(readQuestion('?who=unit:fleet').who).toEqual({ kind: 'unit', id: 'fleet' });
  expect(readQuestion('?who=ship:fleet')).toEqual({
    who: undefined,
    what: undefined,
    where: undefined,
    when: undefined,
  });
});

it('says which parts of an address are no question', () => {
  expect(unreadable('?who=account:m&what=setting:chat.private')).toBeUndefined();
  expect(unreadable('?who=mirela&where=bridge')).toContain('who=mirela and where=bridge');
});
