import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { expect, it } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { LogbookView } from './LogbookView';

const line = (number: number, more: object = {}) => ({
  number,
  at: '2026-11-24T14:20:00Z',
  author: 'Vera Quill',
  proven: false,
  note: `Note of ${number}`,
  title: `Note of ${number}`,
  planned: null,
  late: false,
  edits: 2,
  accounts: 57,
  workspaces: 0,
  ...more,
});
const change = (number: number, more: object = {}) => ({
  ...line(number),
  edits: [],
  words: ['Bridge under way sets Talk between two to On'],
  ripple: { accounts: 3, gain: 2, lose: 0, both: 0, other: 1, decidedElsewhere: 0, moves: [], inWorkspaces: [] },
  ...more,
});

const show = (path: string, answers: Parameters<typeof serve>[0]) => {
  const sent = serve({
    'GET /changes': () => ({
      changes: [line(9), line(8, { accounts: null, note: '', title: 'Bridge under way is removed', edits: 1 })],
      next: null,
      about: {},
    }),
    'GET /catalogue': () => ({ apps: [{ id: 'chat', name: 'Chat' }], settings: [], families: [] }),
    'GET /changes/9/seats': () => ({ moves: [] }),
    'GET /settling/changes': () => ({ changes: [] }),
    ...answers,
  });
  render(
    <Around at={path}>
      <Routes>
        <Route path="/logbook/:number?" element={<LogbookView />} />
        <Route path="/review" element={<p>Review</p>} />
      </Routes>
    </Around>,
  );
  return sent;
};

it('lists changes with who and why, and how many they changed where that was worked out', async () => {
  show('/logbook', {});
  const [nine, eight] = await screen.findAllByRole('listitem');
  expect(nine).toHaveTextContent('Note of 9 — Vera Quill, Tue 24 Nov, 14:20');
  expect(nine).toHaveTextContent('57 accounts changed');
  expect(eight).toHaveTextContent('Bridge under way is removed');
  expect(eight).toHaveTextContent('1 edit');
});

it('says that nothing has been published yet', async () => {
  show('/logbook', { 'GET /changes': () => ({ changes: [], next: null, about: {} }) });
  expect(await screen.findByText('Nothing has been published yet.')).toBeVisible();
});

it('asks for earlier changes where there are some', async () => {
  show('/logbook', {
    'GET /changes': ({ query }) =>
      query.get('before') === null
        ? { changes: [line(9)], next: 9, about: {} }
        : { changes: [line(3)], next: null, about: {} },
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Earlier changes' }));
  expect(await screen.findByText('Note of 3')).toBeVisible();
  expect(screen.queryByRole('button', { name: 'Earlier changes' })).toBeNull();
});

it('opens a change with its edits and its ripple as they were', async () => {
  show('/logbook', { 'GET /changes/9': () => change(9) });
  await userEvent.click(await screen.findByRole('button', { name: 'Change 9: Note of 9' }));
  const opened = await screen.findByRole('region', { name: 'Change 9' });
  expect(opened).toHaveTextContent('Bridge under way sets Talk between two to On');
  expect(opened).toHaveTextContent('3 accounts changed: 2 gained and 1 other changes.');
  expect(opened).toHaveTextContent('by Vera Quill (name not verified)');
});

it('says of a change that altered no value for whom another statement came to decide', async () => {
  const ripple = { accounts: 0, gain: 0, lose: 0, both: 0, other: 0, decidedElsewhere: 4, moves: [], inWorkspaces: [] };
  show('/logbook/9', { 'GET /changes/9': () => change(9, { ripple }) });
  expect(await screen.findByText(/No value changed for anybody. For 4 accounts another statement/)).toBeVisible();
});

it('names whose seats moved, and why, and all of them when asked', async () => {
  const moves = Array.from({ length: 10 }, (_, i) => ({
    plan: 'desk-plan',
    planName: 'Desk plan',
    account: `a${i}`,
    displayName: `Person ${i}`,
    given: i > 0,
    because: i === 0 ? 'Person 0 was deactivated' : '',
  }));
  show('/logbook/9', { 'GET /changes/9': () => change(9), 'GET /changes/9/seats': () => ({ moves }) });
  expect(await screen.findByText('1 seat returned and 9 seats given.')).toBeVisible();
  expect(screen.getByText(/because Person 0 was deactivated/)).toBeVisible();
  expect(screen.queryByText('Person 9')).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'All 10' }));
  expect(screen.getByText('Person 9')).toBeVisible();
});

it('stages what takes a change back, and reads it over', async () => {
  const sent = show('/logbook/9', {
    'GET /changes/9': () => change(9),
    'POST /drafts': () => draftOf(1, ['Bridge under way sets Talk between two to Off']),
    'GET /drafts/7': () => draftOf(1, ['Bridge under way sets Talk between two to Off']),
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Undo' }));
  expect(await screen.findByText('Review')).toBeVisible();
  expect(sent.find((one) => one.method === 'POST')?.body).toMatchObject({ takesBack: 9 });
});

it('says that a change cannot be taken back, where it cannot', async () => {
  const detail = 'Change 9 replaced the whole estate; put an earlier file in its place instead.';
  show('/logbook/9', {
    'GET /changes/9': () => change(9),
    'POST /drafts': () => new Status(422, { status: 422, title: 'Refused', detail }),
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Undo' }));
  expect(await screen.findByRole('alert')).toHaveTextContent(detail);
});

it('can be left where there is no such change', async () => {
  show('/logbook/99', {
    'GET /changes/99': () => new Status(404, { status: 404, title: 'Not here', detail: 'There is no change 99.' }),
  });
  expect(await screen.findByText('There is no change 99.')).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Close' }));
  expect(screen.queryByText('There is no change 99.')).toBeNull();
});

it('asks for what stands in the address, says so in words, and asks for all again', async () => {
  const sent = show('/logbook?setting=setting-7&kind=policies&text=guests', {
    'GET /changes': () => ({ changes: [line(9)], next: null, about: { setting: 'Talk between two' } }),
  });
  const said = await screen.findByText(
    /Only those that hold “guests”, are about policies and are about Talk between two/,
  );
  expect(said).toBeVisible();
  const asked = sent.find((one) => one.path === '/changes');
  expect(Object.fromEntries(asked?.query ?? [])).toMatchObject({
    setting: 'setting-7',
    kind: 'policies',
    text: 'guests',
  });
  await userEvent.click(screen.getByRole('button', { name: 'Show all' }));
  expect(screen.queryByText(/Only those that/)).toBeNull();
});

it('says of what exists no longer that it does not, and names no id', async () => {
  show('/logbook?policy=p-17', {});
  expect(await screen.findByText(/are about a policy that exists no longer/)).toBeVisible();
});

it('begins a draft that takes back one edit of several', async () => {
  const sent = show('/logbook/9', {
    'GET /changes/9': () => change(9, { edits: [{}, {}], words: ['One thing', 'Another thing'] }),
    'POST /drafts': () => draftOf(1, ['One thing less']),
    'GET /drafts/7': () => draftOf(1, ['One thing less']),
  });
  const [, second] = await screen.findAllByRole('button', { name: 'Undo this' });
  await userEvent.click(second as HTMLElement);
  expect(await screen.findByText('Review')).toBeVisible();
  expect(sent.find((one) => one.method === 'POST')?.body).toMatchObject({ takesBack: 9, edit: 1 });
});
