import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { Status, serve } from '../fakeServer.test-env';
import { rememberQuery } from '../parts/recentQueries';
import { LadderHome } from './LadderHome';

const rung = (height: string, cells: number, accounts: number, most: object[] = []) => ({
  height,
  cells,
  accounts,
  settings: most.length,
  most,
});
const PRIVATE = { setting: 'chat.private', title: 'Talk between two', accounts: 3 };
const OVERVIEW = {
  change: 4,
  accounts: 10,
  settings: 5,
  cells: 50,
  rungs: [rung('builtin', 47, 10), rung('organisation', 0, 0), rung('unit', 3, 3, [PRIVATE])],
  units: [
    { id: 'fleet', name: 'Fleet', accounts: 6, differing: 3, cells: 9, most: [PRIVATE] },
    { id: 'shore', name: 'Shore', accounts: 0, differing: 0, cells: 0, most: [] },
  ],
};
const CHANGE = {
  title: 'Quiet nights',
  number: 4,
  at: '2026-11-23T14:20:00Z',
  author: 'Vera Quill',
  proven: false,
  note: 'Quiet nights',
  planned: null,
  late: false,
  edits: 1,
  accounts: 1,
};
const start = (answers: Parameters<typeof serve>[0]) => {
  serve({ 'GET /changes': () => ({ changes: [CHANGE], next: null, about: {} }), ...answers });
  render(
    <Around>
      <LadderHome zone="UTC" />
    </Around>,
  );
};

it('shows the estate by rung and by unit, each part leading to the ladder for many', async () => {
  start({ 'GET /overview': () => OVERVIEW });
  const rungs = await screen.findByLabelText('Decided on which rung');
  expect(rungs).toHaveTextContent('10 accounts, 5 settings: 50 cells');
  expect(rungs).toHaveTextContent('Organisationnothing');
  const [ofRung, ofUnit] = screen.getAllByText('Talk between two');
  expect(ofRung).toHaveAttribute('href', '/ladder?who=everyone&what=setting:chat.private');
  expect(ofUnit).toHaveAttribute('href', '/ladder?who=unit:fleet&what=setting:chat.private');
  expect(screen.getByLabelText('What differs where')).toHaveTextContent('1.5 settings · 3 of 6 accounts');
  expect(screen.getByText('Quiet nights')).toHaveAttribute('href', '/logbook/4');
});

it('still asks, and tells what was asked last, where the estate cannot be counted', async () => {
  rememberQuery({ query: '?who=account:a1&what=setting:chat.private', words: 'Mirela Osk · Talk between two' });
  rememberQuery({ query: '?who=everyone&what=setting:chat.private', words: 'Everyone · Talk between two' });
  rememberQuery({ query: '?who=account:a1&what=setting:chat.private', words: 'Mirela Osk · Talk between two' });
  start({
    'GET /overview': () =>
      new Status(503, { type: 'urn:lean-ladder:away', title: 'Away', status: 503, detail: 'The database is away.' }),
  });
  expect(await screen.findByText(/The database is away/)).toBeInTheDocument();
  expect(screen.getByLabelText('Ask anything')).toBeInTheDocument();
  expect(screen.getByLabelText('Asked last')).toHaveTextContent(
    /^Asked lastMirela Osk · Talk between twoEveryone · Talk between two$/,
  );
});

it('says so where there are no units', async () => {
  start({ 'GET /overview': () => ({ ...OVERVIEW, units: [] }) });
  expect(await screen.findByText('There are no units below the organisation.')).toBeInTheDocument();
});
