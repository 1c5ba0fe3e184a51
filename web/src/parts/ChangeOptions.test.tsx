import { describe, expect, it } from 'vitest';
import { STILL } from '../around.test-env';
import { consequenceText, lossText } from './ChangeOptions';

describe('what opens a gate', () => {
  it('says what it costs, whom it touches, and that another gate stays closed', () => {
    expect(
      consequenceText({
        cost: '4.50 EUR a month',
        ripple: { ...STILL, accounts: 3, gain: 3 },
        works: false,
        taken: [],
      }),
    ).toBe('4.50 EUR a month · 3 gain · another gate stays closed');
    expect(consequenceText({ cost: '', ripple: STILL, works: true, taken: [] })).toBe('nothing else changes');
  });

  it('says who loses by it, and keeps quiet where nobody does', () => {
    expect(lossText({ ripple: STILL, taken: [] })).toBe('');
    expect(
      lossText({
        ripple: { ...STILL, accounts: 1, lose: 1 },
        taken: [{ planId: 'desk', plan: 'Desk plan', accounts: 2 }],
      }),
    ).toBe('It takes 2 seats of Desk plan from others. 1 account loses something by it.');
  });
});
