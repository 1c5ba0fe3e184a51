import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status, type Sent } from '../fakeServer.test-env';
import { PolicyAside } from './PolicyAside';

const policy = (more: object = {}) => ({
  id: 'talk-trial',
  name: 'Talk trial',
  description: '',
  live: true,
  for: 'Bridge officers',
  reaches: 27,
  inWorkspaces: false,
  says: [{ setting: 'chat.private', title: 'Talk between two', cap: false, value: 'On', lock: true }],
  ...more,
});

const show = (search: string, answer: (sent: Sent) => unknown) => {
  const sent = serve({ 'GET /policies/talk-trial': answer });
  render(
    <Around at={`/ladder${search}`}>
      <PolicyAside policy="talk-trial" deciding="talk-trial" setting="chat.private" />
    </Around>,
  );
  return sent;
};

it('tells the policy as it stood at the instant of the question', async () => {
  const sent = show('?when=2026-11-10T09:00:00Z', () => policy());
  expect(await screen.findByText('27 accounts')).toBeVisible();
  expect(sent[0]?.query.get('at')).toBe('2026-11-10T09:00:00Z');
});

it('tells it as the draft of the question would make it', async () => {
  const sent = show('?when=draft:7', () => policy({ live: false }));
  expect(await screen.findByText('nobody while it is paused')).toBeVisible();
  expect(sent[0]?.query.get('draft')).toBe('7');
});

it('marks what is locked, and names the policy that decides', async () => {
  show('', () => policy());
  expect(await screen.findByText('It is decided by')).toBeVisible();
  expect(screen.getByText('locked')).toBeVisible();
});

it('says that the policy is none any more', async () => {
  show('', () => new Status(404, { status: 404, title: 'Not here', detail: 'There is no policy "talk-trial".' }));
  expect(await screen.findByText('There is no policy "talk-trial".')).toBeVisible();
});

it('says who holds where no policy decides', () => {
  render(
    <Around at="/ladder">
      <PolicyAside setting="chat.private" />
    </Around>,
  );
  expect(screen.getByRole('heading', { name: 'No policy decides' })).toBeVisible();
});
