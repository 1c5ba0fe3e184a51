import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Around, STILL } from '../around.test-env';
import { serve, Status, type Sent } from '../fakeServer.test-env';
import { RequestSheet } from './RequestSheet';

const request = (more: object = {}) => ({
  id: 1,
  account: 'yara.brekke',
  name: 'Yara Brekke',
  unit: 'Fleet / MV Whimbrel / Bridge',
  setting: 'assistant.use',
  title: 'Use the assistant',
  workspace: null,
  inWorkspace: null,
  wanted: true,
  value: 'On',
  words: 'The other first mates have it.',
  asked: '2026-11-25T12:00:00Z',
  state: 'open',
  why: 'It takes a licence.',
  alike: [],
  answered: null,
  by: null,
  sentence: null,
  change: null,
  ...more,
});
const ripple = (accounts: number) => ({ ...STILL, accounts, gain: accounts });
const remedy = {
  words: 'Buy a seat of Assistant add-on and give it',
  cost: '19.00 EUR a month',
  ripple: ripple(1),
  works: true,
  taken: [],
  edit: {},
};

const show = (answers: Parameters<typeof serve>[0]) => {
  const sent = serve({
    'GET /requests/1': () => ({ request: request(), alike: [] }),
    'GET /gate-remedies': () => ({ gates: [] }),
    'GET /ways': () => ({ ways: [] }),
    ...answers,
  });
  render(
    <Around at="/today/requests/1">
      <RequestSheet id={1} />
    </Around>,
  );
  return sent;
};

it('says what is asked, in whose words, and what the person reads meanwhile', async () => {
  show({});
  expect(await screen.findByRole('heading', { name: 'Yara Brekke asks for Use the assistant' })).toBeVisible();
  expect(screen.getByText('“The other first mates have it.”')).toBeVisible();
  expect(screen.getByText(/In the suite it says: “It takes a licence.”/)).toBeVisible();
});

it('says that no single edit would grant it, where none would', async () => {
  show({});
  expect(await screen.findByText('No single edit would grant it. The ladder tells what decides.')).toBeVisible();
});

it('says that a request is none any more, without asking again and again', async () => {
  show({
    'GET /requests/1': () => new Status(404, { status: 404, title: 'Unknown', detail: 'There is no request 1.' }),
  });
  expect(await screen.findByText('There is no request 1.')).toBeVisible();
  expect(screen.queryByRole('button', { name: 'Try again' })).toBeNull();
  expect(screen.getByRole('button', { name: 'Close' })).toBeVisible();
});

it('tries the ways again where the server could not tell them', async () => {
  let up = false;
  const away = new Status(503, { status: 503, title: 'The database is away', detail: 'Try again in a moment.' });
  show({
    'GET /gate-remedies': () =>
      up ? { gates: [{ gate: 'licence', need: 'Licence for Assistant', remedies: [remedy] }] } : away,
  });
  await screen.findByText('Try again in a moment.');
  up = true;
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(await screen.findByText('Buy a seat of Assistant add-on and give it')).toBeVisible();
});

it('lists exceptions by the smallest ripple, and none that would not bring it', async () => {
  const way = (name: string, accounts: number, brings: boolean) => ({
    name,
    fresh: false,
    brings,
    ripple: ripple(accounts),
    edit: {},
  });
  show({ 'GET /ways': () => ({ ways: [way('Wide', 40, true), way('Useless', 1, false), way('Narrow', 2, true)] }) });
  const list = await screen.findByRole('list', { name: 'Where it is decided' });
  expect(
    within(list)
      .getAllByRole('listitem')
      .map((li) => /“(\w+)”/.exec(li.textContent)?.[1]),
  ).toEqual(['Narrow', 'Wide']);
});

it('declines with a sentence, and not without one', async () => {
  const sent = show({
    'POST /requests/1/declines': () => ({ request: request({ state: 'declined' }), alike: [] }),
  });
  const decline = await screen.findByRole('button', { name: 'Decline' });
  expect(decline).toBeDisabled();
  await userEvent.type(screen.getByRole('textbox'), 'Not this year');
  await userEvent.click(decline);
  const declined = () => sent.find((one: Sent) => one.method === 'POST');
  expect(declined()?.body).toEqual({ sentence: 'Not this year' });
});

it('says that the server does not answer, and keeps the sentence', async () => {
  show({});
  await userEvent.type(await screen.findByRole('textbox'), 'Not this year');
  await userEvent.click(screen.getByRole('button', { name: 'Decline' }));
  expect(await screen.findByText(/The server does not answer/, {}, { timeout: 3000 })).toBeVisible();
  expect(screen.getByRole('textbox')).toHaveValue('Not this year');
});

it('says how a request ended, and by which change', async () => {
  show({
    'GET /requests/1': () => ({
      request: request({ state: 'granted', by: 'Ivo Tarn', answered: '2026-11-25T14:00:00Z', change: 9 }),
      alike: [],
    }),
  });
  expect(await screen.findByText(/Granted by Ivo Tarn/)).toBeVisible();
  expect(screen.getByRole('link', { name: 'change 9' })).toHaveAttribute('href', '/logbook/9');
});
