import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { costWords, ReviewView } from './ReviewView';

const line = { ...draftOf(2, ['House rules sets Camera to Off']), name: 'Winter rules', items: undefined };

const show = (drafts: object[], more: Parameters<typeof serve>[0] = {}) => {
  const sent = serve({ 'GET /drafts': () => ({ drafts }), ...more });
  render(
    <Around at="/review?when=draft:7">
      <ReviewView />
    </Around>,
  );
  return sent;
};

beforeEach(() => window.localStorage.clear());

it('offers to take up the draft that the address names, where another one or none is worked on', async () => {
  const sent = show([line], { 'GET /drafts/7': () => draftOf(2, ['House rules sets Camera to Off']) });
  expect(await screen.findByRole('heading', { name: 'Winter rules is saved for later' })).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Open it' }));
  await vi.waitFor(() => expect(sent.some((s) => s.path === '/drafts/7')).toBe(true));
  await vi.waitFor(() => expect(screen.queryByRole('heading', { name: 'Winter rules is saved for later' })).toBeNull());
});

it('says why a draft could not publish itself', async () => {
  show([{ ...line, stuck: 'Somebody published meanwhile.' }]);
  expect(await screen.findByText('It could not publish itself: Somebody published meanwhile.')).toBeVisible();
});

it('has nothing to review where the draft is gone', async () => {
  show([]);
  expect(await screen.findByRole('heading', { name: 'There is nothing to review' })).toBeVisible();
});

it('tells what the seats cost more or less', () => {
  const cost = {
    planId: 'desk-plan',
    plan: 'Desk plan',
    when: '',
    seats: 10,
    more: '1100.00',
    currency: 'EUR',
    per: 'month',
  };
  expect(costWords(cost)).toBe('1,100.00 EUR a month more, for 10 more seats');
  expect(costWords({ ...cost, seats: -1, more: '-11.00', when: '1 Jan' })).toBe(
    '11.00 EUR a month less, for 1 fewer seat, from 1 Jan',
  );
  expect(costWords({ ...cost, seats: 0, more: '57.00' })).toBe('57.00 EUR a month more');
});
