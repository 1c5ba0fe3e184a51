import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { Arrivals } from './Arrivals';

const arrival = (more: object = {}) => ({
  at: '2026-12-14T00:00:00Z',
  day: 'Mon 14 Dec',
  setting: 'meetings.captions',
  title: 'Spoken words on screen',
  app: 'Meetings',
  whom: 'Everyone',
  ring: 'everyone',
  to: 'ring:everyone',
  accounts: 11,
  planned: false,
  held: null,
  guide: null,
  ...more,
});
const weeks = (...arrivals: object[]) => [{ begins: '2026-12-14', words: '14 to 20 December', arrivals }];
const SESSION = { now: '2026-11-25T12:00:00Z', organisation: { name: 'Skerrymore', timeZone: 'UTC' }, mails: true };

const show = (answers: Parameters<typeof serve>[0]) => {
  const onOpen = vi.fn();
  const sent = serve({
    'GET /session': () => SESSION,
    'GET /arrivals': () => ({ whom: null, weeks: weeks(arrival()), text: 'Spoken words on screen come' }),
    ...answers,
  });
  render(
    <Around at="/previews">
      <Arrivals rings={[]} onOpen={onOpen} />
    </Around>,
  );
  return { onOpen, sent };
};

it('tells by week what comes to whom, and opens the release', async () => {
  const { onOpen } = show({});
  expect(await screen.findByText('14 to 20 December')).toBeVisible();
  expect(screen.getByText('11 accounts')).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Spoken words on screen' }));
  expect(onOpen).toHaveBeenCalledWith('meetings.captions');
});

it('says that nothing comes, where nothing does', async () => {
  show({ 'GET /arrivals': () => ({ whom: 'Engineering', weeks: [], text: '' }) });
  expect(await screen.findByRole('heading', { name: /Arrivals for Engineering/ })).toBeVisible();
  expect(screen.getByText(/nothing comes in the next six/)).toBeVisible();
});

it('says that it cannot be told, and asks again', async () => {
  let up = false;
  const away = new Status(503, { status: 503, title: 'The database is away', detail: 'Try again in a moment.' });
  show({ 'GET /arrivals': () => (up ? { whom: null, weeks: weeks(arrival()), text: '' } : away) });
  await screen.findByText('Try again in a moment.');
  up = true;
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(await screen.findByText('Spoken words on screen')).toBeVisible();
});

it('tells those who get it by mail, and says how many were written to', async () => {
  const { sent } = show({ 'POST /releases/meetings.captions/notices': () => ({ written: 11 }) });
  await userEvent.click(await screen.findByRole('button', { name: 'Tell them by mail: Spoken words on screen' }));
  await userEvent.type(screen.getByLabelText('Words of your own'), 'For the drill');
  await userEvent.click(screen.getByRole('button', { name: 'Mail 11 accounts' }));
  expect(await screen.findByText('Written to 11 people.')).toBeVisible();
  expect(sent.find((one) => one.method === 'POST')?.body).toEqual({ to: 'ring:everyone', text: 'For the drill' });
});

it('says that the server does not answer, and keeps the words', async () => {
  show({});
  await userEvent.click(await screen.findByRole('button', { name: 'Tell them by mail: Spoken words on screen' }));
  await userEvent.type(screen.getByLabelText('Words of your own'), 'For the drill');
  await userEvent.click(screen.getByRole('button', { name: 'Mail 11 accounts' }));
  expect(await screen.findByText(/The server does not answer/, {}, { timeout: 3000 })).toBeVisible();
  expect(screen.getByLabelText('Words of your own')).toHaveValue('For the drill');
});

it('offers to tell nobody of what has come, or is held', async () => {
  show({
    'GET /arrivals': () => ({
      whom: null,
      weeks: weeks(arrival({ at: '2026-11-20T00:00:00Z' }), arrival({ setting: 'b', held: 'It drops words' })),
      text: '',
    }),
  });
  await screen.findByText('14 to 20 December');
  expect(screen.queryByRole('button', { name: /Tell them by mail/ })).toBeNull();
});
