import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import type { ClimbViewModel } from '../api/client';
import { DrawnLadder } from './DrawnLadder';
import { fit, wrap } from '../parts/measure';

const drawing: ClimbViewModel = {
  account: 'Mirela Osk',
  setting: 'Share outside',
  app: 'Files',
  help: null,
  answer: 'Own people',
  because: [],
  value: 'own people',
  decided: 'proven address',
  text: '',
  rungs: [
    { height: 'builtin', depth: 0, name: 'Built-in', place: 'the catalogue' },
    { height: 'organisation', depth: 0, name: 'Organisation', place: 'Skerrymore Ferries' },
    { height: 'person', depth: 0, name: 'Person', place: 'Mirela Osk' },
  ],
  partial: false,
  decidingRung: 2,
  builtIn: { value: 'passcode', reason: 'lower rung' },
  statements: [
    {
      rung: 2,
      policy: 'loose',
      name: 'Loose',
      cap: false,
      lock: false,
      value: 'link holders',
      verdict: 'decides',
      reason: 'decides',
      via: 'Mirela Osk',
    },
    {
      rung: 1,
      policy: 'cap',
      name: 'Outside sharing',
      cap: true,
      lock: false,
      value: 'proven address',
      verdict: 'binds',
      reason: 'caps the value',
      via: 'Skerrymore Ferries',
    },
  ],
  gates: [{ need: 'Licence for Files', met: false, evidence: 'no licence plan contains it' }],
};

it('reads as a list from the top: answer, gates, caps, rungs', () => {
  render(<DrawnLadder drawing={drawing} width={600} room={0} onChoose={() => {}} />);
  const labels = screen.getAllByRole('listitem').map((e) => e.getAttribute('aria-label'));
  expect(labels).toEqual([
    'In effect: own people (blocked)',
    'Gate closed: Licence for Files; no licence plan contains it',
    'Cap: Outside sharing, proven address, caps the value',
    'Person, Mirela Osk: Loose says link holders, decides',
    'Organisation, Skerrymore Ferries: nothing is said here',
    'Built-in, the catalogue: the catalogue says passcode',
  ]);
});

it('chooses a policy by mouse and by keyboard, and is walked by arrow keys', async () => {
  const chosen = vi.fn();
  const user = userEvent.setup();
  render(<DrawnLadder drawing={drawing} width={600} room={0} chosen="loose" onChoose={chosen} />);
  await user.click(screen.getByRole('button', { name: /^Loose says/ }));
  screen.getByRole('button', { name: /^Outside sharing caps/ }).focus();
  await user.keyboard('{Enter}{ArrowDown}');
  expect(chosen.mock.calls).toEqual([['loose'], ['cap']]);
  expect(screen.getByRole('button', { name: /^Loose says/ })).toHaveFocus();
  expect(screen.getByRole('button', { name: /^Loose says/ })).toHaveAttribute('aria-pressed', 'true');
});

it('shortens what is too long and breaks lines at spaces', () => {
  expect(fit('short', 200, 13)).toBe('short');
  const long = fit('a policy with a name that goes on and on', 90, 13);
  expect(long.endsWith('…')).toBe(true);
  expect(long.length).toBeLessThan(16);
  const lines = wrap('excepted as one of Bridge officers', 130, 13, 2);
  expect(lines).toHaveLength(2);
  expect(lines.join(' ')).toBe('excepted as one of Bridge officers');
});
