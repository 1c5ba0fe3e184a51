import { expect, it } from 'vitest';
import { STILL as NONE } from '../around.test-env';
import { impactSentence, impactText, settlingText } from './impactText';

it('tells a ripple with right plurals and leaves out what is nobody', () => {
  expect(impactText(NONE)).toEqual({ head: 'No value changes', parts: '' });
  expect(impactText({ ...NONE, accounts: 1, lose: 1 })).toEqual({ head: '1 person affected', parts: '1 loses' });
  expect(impactText({ ...NONE, accounts: 1234, gain: 1200, both: 34, blocked: 7 })).toEqual({
    head: '1,234 people affected',
    parts: '1,200 gain · 34 gain some and lose some · 7 still blocked',
  });
});

it('tells who is decided elsewhere only when no value changes', () => {
  expect(impactText({ ...NONE, decidedElsewhere: 57 }).parts).toBe('no visible change for 57');
  expect(impactText({ ...NONE, accounts: 2, other: 2, decidedElsewhere: 57 }).parts).toBe('2 other changes');
});

it('counts those who come and go beside those who change', () => {
  expect(impactText({ ...NONE, joining: 3, leaving: 1 })).toEqual({
    head: 'No value changes',
    parts: '3 new · 1 gone',
  });
});

it('tells which plans run short of seats', () => {
  const waiting = [
    { planId: 'desk', plan: 'Desk', more: 3 },
    { planId: 'crew', plan: 'Crew', more: 1 },
  ];
  expect(impactText({ ...NONE, waiting }).parts).toBe('Desk: 3 more wait for a seat · Crew: 1 more waits for a seat');
});

it('reads a ripple as a sentence', () => {
  expect(impactSentence({ ...NONE, accounts: 60, lose: 1, gain: 57, other: 2 })).toBe(
    '1 loses, 57 gain and 2 other changes',
  );
});

it('tells how long a change settles in one unit of measure where it can', () => {
  expect(settlingText(0, 0)).toBe('at once');
  expect(settlingText(5, 60)).toBe('after 5 to 60 minutes');
  expect(settlingText(0, 15)).toBe('within 15 minutes');
  expect(settlingText(60, 1440)).toBe('after 60 minutes to 1 day');
});

it('counts those whom it affects inside workspaces', () => {
  const inWorkspaces = [{ id: 'timetable-room', name: 'Timetable room', accounts: 4 }];
  expect(impactText({ ...NONE, inWorkspaces })).toEqual({
    head: 'No value changes outside workspaces',
    parts: 'in Timetable room: 4 people',
  });
  expect(impactText({ ...NONE, accounts: 1, gain: 1, inWorkspaces }).parts).toBe(
    '1 gains · in Timetable room: 4 people',
  );
});
