import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, it } from 'vitest';
import type { Session } from '../api/client';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { TodayView } from './TodayView';

const session = {
  author: 'Ivo Tarn',
  now: '2026-11-25T12:00:00Z',
  change: 3,
  organisation: { name: 'Skerrymore', timeZone: 'UTC', accounts: 3 },
  suite: null,
  mails: false,
} as Session;

const matter = (topic: string, n: number, more: object = {}) => ({
  topic,
  key: `${topic}:${n}`,
  words: `The ${n}. of ${topic}.`,
  leads: '/seats',
  due: null,
  ...more,
});

const show = (matters: object[], next: string | null = null) => {
  serve({ 'GET /today': () => ({ now: '2026-11-25T12:00:00Z', matters, next }), 'GET /session': () => session });
  render(
    <Around at="/today">
      <TodayView session={session} />
    </Around>,
  );
};

beforeEach(() => {
  window.localStorage.clear();
  window.sessionStorage.clear();
});

it('says on a good day that nothing waits, and what comes next', async () => {
  show([], 'Recording trial ends on 4 Dec.');
  expect(
    await screen.findByText('Nothing waits for you. What comes next: Recording trial ends on 4 Dec.'),
  ).toBeVisible();
  expect(screen.getByRole('heading', { name: 'Wednesday 25 November' })).toBeVisible();
});

it('says that nothing is on its way where nothing is', async () => {
  show([]);
  expect(await screen.findByText('Nothing waits for you, and nothing is on its way.')).toBeVisible();
});

it('keeps forty entries short, each topic by its first ones, and opens a topic', async () => {
  show([
    ...Array.from({ length: 20 }, (_, n) => matter('seats', n)),
    ...Array.from({ length: 20 }, (_, n) => matter('review', n)),
  ]);
  expect(await screen.findByText('40 things to know, the most urgent first.')).toBeVisible();
  const seats = screen.getByRole('list', { name: 'Seats' });
  expect(within(seats).getAllByRole('link')).toHaveLength(4);
  await userEvent.click(within(seats).getByRole('button', { name: 'And 16 more' }));
  expect(within(seats).getAllByRole('link')).toHaveLength(20);
  expect(within(screen.getByRole('list', { name: 'To be looked at again' })).getAllByRole('link')).toHaveLength(4);
});

it('puts a matter off until the morning of a day of one’s own, and brings it back', async () => {
  show([matter('seats', 1)]);
  await userEvent.click(await screen.findByRole('button', { name: 'Snooze until a day: The 1. of seats.' }));
  await userEvent.type(await screen.findByLabelText('Snooze until'), '24 dec 2030');
  await userEvent.click(screen.getByRole('button', { name: 'Snooze' }));
  expect(await screen.findByText('Nothing waits for you, and nothing is on its way.')).toBeVisible();
  const away = JSON.parse(window.localStorage.getItem('today.away.Ivo Tarn') ?? '{}') as Record<string, string>;
  expect(new Date(away['seats:1'] ?? '').getTime()).toBe(new Date('2030-12-24T06:00:00').getTime());
  await userEvent.click(screen.getByRole('button', { name: 'Bring back 1 thing' }));
  expect(await screen.findByText('The 1. of seats.')).toBeVisible();
});

it('leads nowhere where a matter is dealt with elsewhere', async () => {
  show([matter('check', 1, { leads: '' })]);
  expect(await screen.findByText('The 1. of check.')).toBeVisible();
  expect(screen.queryByRole('link', { name: 'The 1. of check.' })).toBeNull();
});

it('says what is wrong where the server is away', async () => {
  const detail = 'The database does not answer. Try again in a moment.';
  serve({
    'GET /today': () => new Status(503, { type: 'urn:lean-ladder:away', title: 'Not now', status: 503, detail }),
    'GET /session': () => session,
  });
  render(
    <Around at="/today">
      <TodayView session={session} />
    </Around>,
  );
  expect(await screen.findByText(new RegExp(detail))).toBeVisible();
});
