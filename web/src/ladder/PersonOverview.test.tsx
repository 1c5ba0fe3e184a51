import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import type { AccountSetting, AccountView } from '../api/client';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { PersonOverview, settingsText } from './PersonOverview';

const MIRELA: AccountView = {
  id: 'm',
  displayName: 'Mirela Osk',
  userName: 'mirela@skerrymore.example',
  kind: 'person',
  title: null,
  workspace: null,
  path: [
    { id: 'o', name: 'Skerrymore Ferries' },
    { id: 'b', name: 'Bridge' },
  ],
  groups: [],
  seats: [
    {
      planId: 'deck',
      plan: 'Deck plan',
      standing: 'seated',
      since: '1 Feb',
      rule: 2,
      place: null,
      carries: ['Talk'],
      leftOut: [{ name: 'Reports', rules: [2] }],
    },
  ],
  ring: { id: 'sea', name: 'Sea trial', asksConsent: true, consented: '12 Nov' },
  consents: [{ to: 'Sea trial', since: '12 Nov' }],
  workspaces: [],
};

const row = (key: string, title: string, more: Partial<AccountSetting> = {}): AccountSetting => ({
  key,
  title,
  app: 'chat',
  value: 'Off',
  inForce: false,
  decided: 'Off',
  standing: 'set',
  rung: 'unit',
  differs: false,
  usual: null,
  blockedBy: [],
  ...more,
});
const ROWS = [
  row('b', 'Talk between two', { differs: true, usual: 'On' }),
  row('a', 'Read the watch log', { standing: 'blocked', decided: 'On', blockedBy: ['Licence for the log'] }),
  row('c', 'Signal flags', { value: 'On', app: 'files' }),
];

const show = () => {
  serve({
    'GET /accounts/m': () => MIRELA,
    'GET /accounts/m/settings': () => ({ change: 3, settings: ROWS }),
    'GET /catalogue': () => ({ apps: [{ id: 'chat', name: 'Chat' }], settings: [], families: [] }),
    'GET /requests': () => ({ requests: [], next: null }),
    'GET /settling/changes': () => ({ changes: [{ number: 3, note: 'Less talk', until: '2026-11-25T12:00:00Z' }] }),
    'GET /changes': () => ({ changes: [], next: null, about: {} }),
  });
  render(
    <Around at="/ladder?who=account:m">
      <PersonOverview question={{ who: { kind: 'account', id: 'm' } }} zone="UTC" />
    </Around>,
  );
};

it('tells what is blocked by what, what differs, and what a seat carries and leaves out by which rule', async () => {
  show();
  const blocked = await screen.findByRole('region', { name: 'Blocked' });
  expect(blocked).toHaveTextContent('Read the watch log');
  expect(blocked).toHaveTextContent('would be On. Needs: Licence for the log');
  expect(screen.getByRole('region', { name: 'Differs from the unit' })).toHaveTextContent('most have On');
  const licences = screen.getByRole('region', { name: 'Licences' });
  expect(licences).toHaveTextContent('Deck plan seat held since 1 Feb, by rule 2');
  expect(licences).toHaveTextContent('Without Reports: left out by rule 2');
  expect(screen.getByRole('region', { name: 'Previews' })).toHaveTextContent('Consented to Sea trial on 12 Nov.');
  // A change that is on its way to others is not told of this person.
  expect(within(screen.getByRole('region', { name: 'Still arriving' })).queryByText('Less talk')).toBeNull();
});

it('copies all settings as text, by app and title', async () => {
  // It brings a clipboard along.
  const user = userEvent.setup();
  show();
  await user.click(await screen.findByRole('button', { name: 'Copy all settings as text' }));
  expect(await screen.findByText('3 settings copied')).toBeVisible();
  expect(await navigator.clipboard.readText()).toContain('Talk between two: Off');
  expect(settingsText(MIRELA, ROWS, new Map([['chat', 'Chat']])).split('\n')).toEqual([
    'Mirela Osk, mirela@skerrymore.example',
    'Skerrymore Ferries › Bridge',
    '',
    'Other',
    '  Signal flags: On',
    '',
    'Chat',
    '  Read the watch log: Off (blocked; needs: Licence for the log)',
    '  Talk between two: Off',
    '',
  ]);
});
