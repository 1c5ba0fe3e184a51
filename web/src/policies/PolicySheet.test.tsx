import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { PolicySheet } from './PolicySheet';

const POLICY = {
  id: 'relief',
  name: 'Relief captain',
  description: null,
  live: true,
  statements: 1,
  for: 'Mirela Osk',
  reaches: 1,
  inWorkspaces: false,
  change: 14,
  policy: {
    id: 'relief',
    name: 'Relief captain',
    statements: [{ setting: 'chat.private', set: true }],
    assignments: [{ include: 'account:mirela' }],
  },
  names: { 'account:mirela': 'Mirela Osk' },
  says: [{ setting: 'chat.private', title: 'Talk between two', app: 'Chat', cap: false, lock: false, value: 'On' }],
};
const SETTING = {
  key: 'chat.private',
  app: 'chat',
  title: 'Talk between two',
  type: 'switch',
  default: false,
  needs: [],
};

const show = (others: Parameters<typeof serve>[0] = {}) => {
  const sent = serve({
    'GET /policies/relief': () => POLICY,
    'GET /policies': () => ({ change: 14, policies: [POLICY] }),
    'GET /policies/relief/does': () => ({
      reached: 1,
      does: [
        {
          setting: 'chat.private',
          cap: false,
          decides: 1,
          adds: 0,
          outranked: [],
          blocked: [],
          unlicensed: false,
          repeats: false,
        },
      ],
    }),
    'GET /policies/relief/reaches': () => ({ accounts: 1, rows: [], next: null }),
    'GET /catalogue': () => ({
      apps: [{ id: 'chat', name: 'Chat' }],
      entitlements: [],
      sizes: [],
      settings: [SETTING],
      families: [],
    }),
    'GET /changes': () => ({ changes: [], next: null }),
    'GET /drafts': () => ({ drafts: [] }),
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': () => draftOf(2, ['Relief captain is called Relief master']),
    ...others,
  });
  const onOpen = vi.fn();
  render(
    <Around at="/policies/relief">
      <PolicySheet id="relief" zone="UTC" onOpen={onOpen} onClose={() => {}} onCompare={() => {}} />
    </Around>,
  );
  return { sent, onOpen };
};

it('shows what the policy states and for whom, and stages another name', async () => {
  const { sent } = show();
  const user = userEvent.setup();
  const sheet = await screen.findByRole('region', { name: 'Policy Relief captain' });
  expect(await within(sheet).findByText('Talk between two')).toBeVisible();
  expect(sheet).toHaveTextContent('Mirela Osk');
  expect(sheet).toHaveTextContent('Reaches 1 account');
  const name = within(sheet).getByDisplayValue('Relief captain');
  await user.clear(name);
  await user.type(name, 'Relief master{Enter}');
  await waitFor(() =>
    expect(sent.filter((s) => s.path.endsWith('/edits')).map((s) => JSON.stringify(s.body))).toEqual([
      expect.stringContaining('"members":{"name":"Relief master"}'),
    ]),
  );
});

it('says that nothing is there until it has been read', () => {
  show({ 'GET /policies/relief': () => new Promise(() => {}) });
  expect(screen.getByText('Looking…')).toBeVisible();
});
