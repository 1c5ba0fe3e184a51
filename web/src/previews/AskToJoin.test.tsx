import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status, type Sent } from '../fakeServer.test-env';
import { AskToJoin } from './AskToJoin';
import { ringOf } from './ring.test-env';

const ring = ringOf('sea-trial', 'Sea trial', { may: 5, asked: 3 });
const member = (account: string, more: object = {}) => ({
  account,
  userName: `${account}@skerrymore.example`,
  ...more,
});
const ASKED = { asked: '2026-11-20T08:00:00Z' };

/** Two pages: whoever comes first has been asked. */
const pages = ({ query }: Sent) =>
  query.get('after') === null
    ? { members: [member('ana', ASKED), member('bo', ASKED)], next: 'bo' }
    : { members: [member('cleo', ASKED), member('dag'), member('eve')], next: null };

const show = (answers: Parameters<typeof serve>[0] = {}) => {
  const onEdit = vi.fn().mockResolvedValue(true);
  serve({ 'GET /rings/sea-trial/accounts': pages, ...answers });
  render(
    <Around>
      <AskToJoin ring={ring} by="Ivo Tarn" onEdit={onEdit} />
    </Around>,
  );
  return onEdit;
};
const open = () => userEvent.click(screen.getByRole('button', { name: 'Ask to join' }));

it('marks those who were not asked yet, on whichever page they stand', async () => {
  const onEdit = show();
  await open();
  await userEvent.click(screen.getByRole('button', { name: 'Mark 2 accounts as asked' }));
  await vi.waitFor(() => expect(onEdit).toHaveBeenCalled());
  const [edits] = onEdit.mock.calls[0] as [[{ edits: { account: string }[] }]];
  expect(edits[0].edits.map((e) => e.account)).toEqual(['dag', 'eve']);
});

it('copies the addresses of all who were asked and have not answered', async () => {
  show();
  const user = userEvent.setup();
  await user.click(screen.getByRole('button', { name: 'Ask to join' }));
  await user.click(screen.getByRole('button', { name: 'Copy their addresses' }));
  expect(await screen.findByText('3 addresses copied.')).toBeVisible();
  expect(await navigator.clipboard.readText()).toBe(
    'ana@skerrymore.example, bo@skerrymore.example, cleo@skerrymore.example',
  );
});

it('says no more of the press before than the last one came to', async () => {
  let away = true;
  const gone = new Status(503, { status: 503, title: 'Away', detail: 'The database is away.' });
  const onEdit = show({ 'GET /rings/sea-trial/accounts': (sent) => (away ? gone : pages(sent)) });
  await open();
  await userEvent.click(screen.getByRole('button', { name: 'Copy their addresses' }));
  await screen.findByText('The database is away.');
  away = false;
  await userEvent.click(screen.getByRole('button', { name: 'Mark 2 accounts as asked' }));
  await vi.waitFor(() => expect(onEdit).toHaveBeenCalled());
  await vi.waitFor(() => expect(screen.queryByText('The database is away.')).toBeNull());
});

it('says why they cannot be looked up, and asks nobody', async () => {
  const away = { status: 503, title: 'The database is away', detail: 'The database is away; try again in a moment.' };
  const onEdit = show({ 'GET /rings/sea-trial/accounts': () => new Status(503, away) });
  await open();
  await userEvent.click(screen.getByRole('button', { name: 'Mark 2 accounts as asked' }));
  expect(await screen.findByText('The database is away; try again in a moment.')).toBeVisible();
  expect(onEdit).not.toHaveBeenCalled();
});
