import { expect, it } from 'vitest';
import type { Family } from '../api/client';
import type { Line } from './policyDiff';
import { completed, incompleteFamilies } from './families';

const blocks: Family = {
  id: 'blocks',
  name: 'Blocks',
  states: [
    { name: 'On everywhere', values: { 'pages.blocks': true, 'chat.blocks': true, 'mail.blocks': true } },
    { name: 'Off everywhere', values: { 'pages.blocks': false, 'chat.blocks': false, 'mail.blocks': false } },
  ],
};
const line = (setting: string, says: Line['says'], value: unknown): Line => ({ setting, says, value });

it('flags a family that is set by half, and only then', () => {
  expect(incompleteFamilies([blocks], [])).toEqual([]);
  expect(incompleteFamilies([blocks], [line('chat.blocks', 'cap', true)])).toEqual([]);
  expect(incompleteFamilies([blocks], [line('chat.blocks', 'lock', true)])[0]?.missing).toEqual([
    'pages.blocks',
    'mail.blocks',
  ]);
  expect(incompleteFamilies([blocks], completed([line('chat.blocks', 'set', true)], blocks.states[0]!))).toEqual([]);
});

it('completes a family to a state, keeps locks and caps, and leaves the rest alone', () => {
  const before = [line('chat.blocks', 'lock', true), line('chat.blocks', 'cap', true), line('other', 'set', 3)];
  expect(completed(before, blocks.states[1]!)).toEqual([
    line('chat.blocks', 'lock', false),
    line('chat.blocks', 'cap', true),
    line('other', 'set', 3),
    line('pages.blocks', 'set', false),
    line('mail.blocks', 'set', false),
  ]);
});
