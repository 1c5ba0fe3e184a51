import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { consequence, harm } from './Openers';

const COUNTS: Schemas['RippleCounts'] = {
  accounts: 0,
  gain: 0,
  lose: 0,
  both: 0,
  other: 0,
  decidedElsewhere: 0,
  joining: 0,
  leaving: 0,
  blocked: 0,
  waiting: [],
};

describe('what opens a gate', () => {
  it('says what it costs, whom it touches, and that another gate stays closed', () => {
    expect(
      consequence({
        cost: '4.50 EUR a month',
        ripple: { ...COUNTS, accounts: 3, gain: 3 },
        works: false,
        taken: [],
      }),
    ).toBe('4.50 EUR a month · 3 gain · another gate stays closed');
    expect(consequence({ cost: '', ripple: COUNTS, works: true, taken: [] })).toBe('nothing else changes');
  });

  it('says who loses by it, and keeps quiet where nobody does', () => {
    expect(harm({ ripple: COUNTS, taken: [] })).toBe('');
    expect(
      harm({
        ripple: { ...COUNTS, accounts: 1, lose: 1 },
        taken: [{ planId: 'desk', plan: 'Desk plan', accounts: 2 }],
      }),
    ).toBe('It takes 2 seats of Desk plan from others. 1 account loses something by it.');
  });
});
