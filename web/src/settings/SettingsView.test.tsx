import { fireEvent, render, screen } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import type { Setting } from '../api/client';
import { facts } from './SettingPage';
import { SettingsView } from './SettingsView';

const RECORD: Setting = {
  key: 'meetings.record',
  app: 'meetings',
  title: 'Record meetings',
  help: 'Sound and picture are kept.',
  type: 'switch',
  strict: false,
  default: false,
  caution: 'Everyone in the room is recorded.',
  settles: { minMinutes: 5, maxMinutes: 60, then: 'sign-in' },
};
const REACH: Setting = {
  key: 'files.share',
  title: 'Reach of cargo papers',
  type: 'choice',
  ordered: true,
  options: ['crew', 'waybill-holders'],
  default: 'crew',
};

const show = (at: string) => {
  const sent = serve({
    'GET /catalogue': () => ({
      apps: [{ id: 'meetings', name: 'Meetings' }],
      entitlements: [],
      sizes: [],
      families: [],
      settings: [RECORD, REACH],
    }),
    'GET /settings': () => ({
      settings: [
        { key: 'files.share', title: 'Reach of cargo papers', stated: false, openToWorkspaces: false, blocked: 0 },
        { key: 'meetings.record', title: 'Record meetings', stated: true, openToWorkspaces: true, blocked: 12 },
      ],
    }),
    'GET /search': () => ({
      hits: [{ kind: 'setting', id: 'meetings.record', title: 'Record meetings', context: 'Meetings' }],
      readings: [],
    }),
    'GET /settings/meetings.record': () => ({
      key: 'meetings.record',
      title: 'Record meetings',
      builtIn: 'Off',
      needs: ['Open a meeting on'],
      dependents: [{ id: 'meetings.summary', name: 'Written summaries' }],
      statements: [
        { policy: 'union', name: 'Union representatives', live: true, cap: false, says: 'Off, locked', decides: 11 },
        { policy: 'old', name: 'Old rules', live: false, cap: true, says: 'at most On', decides: 0 },
      ],
      values: [
        { value: 'Off', accounts: 600 },
        { value: 'On', accounts: 16 },
      ],
      accounts: 616,
      blocked: 3,
    }),
  });
  render(
    <Around at={at}>
      <Routes>
        <Route path="/settings/:key?" element={<SettingsView />} />
      </Routes>
    </Around>,
  );
  return sent;
};

it('lists all settings, and those that policies state something about', async () => {
  show('/settings');
  expect(await screen.findByText('2 settings')).toBeVisible();
  fireEvent.click(screen.getByRole('button', { name: 'Changed here' }));
  expect(screen.getByText('1 setting')).toBeVisible();
  expect(screen.getByRole('link', { name: /Record meetings/ })).toBeVisible();
  fireEvent.click(screen.getByRole('button', { name: 'Built-in' }));
  expect(screen.getByRole('link', { name: /Reach of cargo papers/ })).toBeVisible();
});

it('finds settings by the search that the whole product has', async () => {
  show('/settings');
  await screen.findByText('2 settings');
  fireEvent.change(screen.getByLabelText('Find a setting'), { target: { value: 'film' } });
  expect(await screen.findByText('1 setting')).toBeVisible();
  expect(screen.getByRole('link', { name: /Record meetings/ })).toBeVisible();
});

it('tells of one who states something, for how many each decides, and what it needs', async () => {
  show('/settings/meetings.record');
  const policies = await screen.findByRole('list', { name: 'Policies' });
  expect(policies).toHaveTextContent('Union representativesOff, lockeddecides for 11');
  expect(policies).toHaveTextContent('Old rules (paused)at most Onbinds for nobody');
  expect(screen.getByText(/Blocked for 3/)).toBeVisible();
  expect(screen.getByRole('link', { name: 'Written summaries' })).toBeVisible();
  expect(document.title).toBe('Record meetings · Lean Ladder');
});

it('says what the catalogue says, in words', () => {
  expect(facts('Meetings', RECORD, 'Off', ['Open a meeting on'])).toEqual([
    ['App', 'Meetings'],
    ['Values', 'On or Off'],
    ['Built-in', 'Off'],
    ['Strict end', 'Off'],
    ['Needs', 'Open a meeting on'],
    ['Workspaces', 'follow everybody else'],
    ['Arrives', 'after 5 to 60 minutes, once people sign in again'],
    ['Caution', 'Everyone in the room is recorded.'],
  ]);
  expect(facts(undefined, REACH, 'crew', [])).toContainEqual(['Values', 'crew and waybill holders']);
  expect(facts(undefined, REACH, 'crew', [])).toContainEqual(['Arrives', 'at once']);
});
