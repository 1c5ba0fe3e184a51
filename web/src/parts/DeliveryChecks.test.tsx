import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { DraftDeliveryChecks, DeliveryCheckLine } from './DeliveryChecks';

const session = {
  author: 'Ivo Tarn',
  now: '2026-11-25T12:00:00Z',
  change: 3,
  organisation: { name: 'Skerrymore', timeZone: 'UTC', accounts: 3 },
  suite: 'http://127.0.0.1:1',
  mails: false,
};
const check = (more: object = {}) => ({
  id: 4,
  who: 'unit:finance',
  setting: 'chat.private',
  workspace: null,
  words: '“Talk between two” for Finance',
  change: 3,
  draft: null,
  written: '2026-11-25T12:00:00Z',
  by: 'Ivo Tarn',
  due: '2026-11-25T13:00:00Z',
  state: 'waiting',
  looked: null,
  found: null,
  ...more,
});
const FINANCE = '?who=unit:finance&what=setting:chat.private';

const show = (checks: object[], at: string, others: Parameters<typeof serve>[0] = {}) => {
  const sent = serve({ 'GET /session': () => session, 'GET /checks': () => ({ checks }), ...others });
  render(
    <Around at={`/ladder${at}`}>
      <DeliveryCheckLine />
    </Around>,
  );
  return sent;
};

it('writes a check of what the question asks about, with its workspace', async () => {
  const sent = show([], `${FINANCE}&where=workspace:freight-desk`, {
    'POST /checks': () => ({ checks: [check()] }),
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Check delivery' }));
  expect(sent.find((s) => s.method === 'POST')?.body).toEqual({
    who: 'unit:finance',
    setting: 'chat.private',
    workspace: 'freight-desk',
  });
});

it('says when it is looked at, and afterwards what was found', async () => {
  show([check()], FINANCE);
  expect(await screen.findByRole('status')).toHaveTextContent(
    'Whether it has arrived is looked at on Wed 25 Nov, 13:00.',
  );
});

it('takes no check of another workspace, or of a draft, for its own', async () => {
  show(
    [
      check({ workspace: 'freight-desk' }),
      check({ id: 5, draft: 7, due: null }),
      check({ id: 3, state: 'missing', looked: '2026-11-25T13:00:00Z', found: 'Arrived for 2 of 3.' }),
    ],
    FINANCE,
  );
  expect(await screen.findByRole('status')).toHaveTextContent(
    'Arrived for 2 of 3. Looked at on Wed 25 Nov, 13:00. Check again',
  );
});

it('has the draft carry it where a draft is asked about', async () => {
  const sent = show([], `${FINANCE}&when=draft:7`, { 'POST /checks': () => ({ checks: [check()] }) });
  await userEvent.click(await screen.findByRole('button', { name: 'Check delivery' }));
  expect(sent.find((s) => s.method === 'POST')?.body).toMatchObject({ draft: 7 });
});

it('says nothing of a day that is past', async () => {
  const sent = show([check()], `${FINANCE}&when=2026-11-20`);
  await vi.waitFor(() => expect(sent.some((s) => s.path === '/session')).toBe(true));
  expect(sent.some((s) => s.path === '/checks')).toBe(false);
  expect(screen.queryByRole('status')).toBeNull();
});

it('lists what a draft carries, and takes it out', async () => {
  const sent = serve({
    'GET /session': () => session,
    'GET /checks': () => ({ checks: [check({ draft: 7, due: null })] }),
    'DELETE /checks/4': () => null,
  });
  render(
    <Around>
      <DraftDeliveryChecks draft={7} />
    </Around>,
  );
  expect(await screen.findByText(/“Talk between two” for Finance: whether it has arrived/)).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Take it out' }));
  expect(sent.some((s) => s.method === 'DELETE')).toBe(true);
});

const refused = (detail: string) => new Status(422, { title: 'Refused', detail });

it('says why a check was refused, and lets it be tried again', async () => {
  let tries = 0;
  show([], FINANCE, {
    'POST /checks': () => (++tries === 1 ? refused('A check needs a suite that can be asked.') : { checks: [check()] }),
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Check delivery' }));
  expect(await screen.findByText('A check needs a suite that can be asked.')).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Check delivery' }));
  await vi.waitFor(() => expect(screen.queryByText('A check needs a suite that can be asked.')).toBeNull());
  expect(tries).toBe(2);
});

it('says why a check of a draft cannot be taken out, and leaves it in', async () => {
  serve({
    'GET /session': () => session,
    'GET /checks': () => ({ checks: [check({ draft: 7, due: null })] }),
    'DELETE /checks/4': () => refused('The draft was published meanwhile.'),
  });
  render(
    <Around>
      <DraftDeliveryChecks draft={7} />
    </Around>,
  );
  await userEvent.click(await screen.findByRole('button', { name: 'Take it out' }));
  expect(await screen.findByText('The draft was published meanwhile.')).toBeVisible();
  expect(screen.getByText(/“Talk between two” for Finance: whether it has arrived/)).toBeVisible();
});
