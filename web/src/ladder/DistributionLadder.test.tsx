import { fireEvent, render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { Status, serve } from '../fakeServer.test-env';
import { DistributionLadder } from './DistributionLadder';

const QUESTION = { who: { kind: 'unit', id: 'fleet' }, what: { id: 'chat.private' } } as const;
const segment = (name: string | null, value: string, accounts: number, more: object = {}) => ({
  policy: name,
  name,
  value,
  inForce: value === 'On',
  decided: value,
  accounts,
  standing: 'set',
  cappedBy: null,
  blockedBy: null,
  ...more,
});
const CROWD = {
  change: 3,
  name: 'Fleet',
  kind: 'unit',
  setting: 'Talk between two',
  app: 'Chat',
  accounts: 323,
  values: [
    { value: 'On', inForce: true, accounts: 257 },
    { value: 'Off', inForce: false, accounts: 66 },
  ],
  standings: [
    { standing: 'set', accounts: 257, by: null },
    { standing: 'blocked', accounts: 66, by: null },
  ],
  rungs: [
    { height: 'builtin', segments: [] },
    {
      height: 'unit',
      segments: [
        segment('Ship network', 'On', 257),
        segment('Bridge under way', 'Off', 66, { standing: 'blocked', blockedBy: 'Deck plan' }),
      ],
    },
  ],
};

const ladder = (question: Parameters<typeof DistributionLadder>[0]['question']) =>
  render(
    <Around>
      <DistributionLadder question={question} stands="As it stands now" />
    </Around>,
  );

it('tells the values of many in a sentence, and each rung by statement and value', async () => {
  serve({ 'GET /distribution': () => CROWD });
  ladder(QUESTION);
  expect(await screen.findByTestId('outcome')).toHaveTextContent(
    'On for 257, Off for 66. Talk between two in Chat for Fleet, 323 accounts.',
  );
  expect(screen.getByText('As it stands now, change 3.')).toBeInTheDocument();
  expect(screen.getByRole('button', { name: 'Ship network: On for 257 accounts' })).toBeInTheDocument();
  expect(
    screen.getByRole('button', { name: 'Bridge under way: Off for 66 accounts, blocked: Deck plan' }),
  ).toBeInTheDocument();
});

it('says that a cap bends everybody, and begins its sentence with a capital', async () => {
  serve({
    'GET /distribution': () => ({
      ...CROWD,
      values: [{ value: 'proven address', inForce: 'proven-address', accounts: 323 }],
      standings: [{ standing: 'capped', accounts: 323, by: 'Outside sharing' }],
      rungs: [
        {
          height: 'unit',
          segments: [
            segment('Freight partners', 'proven address', 323, {
              standing: 'capped',
              cappedBy: 'Outside sharing',
            }),
          ],
        },
      ],
    }),
  });
  ladder(QUESTION);
  expect(await screen.findByTestId('outcome')).toHaveTextContent(/^Proven address for all\./);
  expect(screen.getByTestId('standings')).toHaveTextContent('Capped by Outside sharing for all 323.');
  expect(screen.getByText('capped by Outside sharing')).toBeInTheDocument();
});

it('tells segments apart by value, not by the words that long lists share', async () => {
  const words = 'a, b and 2 more';
  const sent = serve({
    'GET /distribution': ({ query }) =>
      query.has('rung')
        ? { people: [], accounts: 0, next: null }
        : {
            ...CROWD,
            rungs: [
              {
                height: 'unit',
                segments: [
                  segment('Ship network', words, 200, { inForce: ['a', 'b', 'c', 'd'] }),
                  segment('Ship network', words, 123, { inForce: ['a', 'b', 'e', 'f'] }),
                ],
              },
            ],
          },
  });
  ladder(QUESTION);
  fireEvent.click(await screen.findByRole('button', { name: `Ship network: ${words} for 123 accounts` }));
  expect(await screen.findByText('0 accounts')).toBeInTheDocument();
  expect(sent.at(-1)?.query.get('value')).toBe('["a","b","e","f"]');
});

it('lists the accounts of a segment that is pressed', async () => {
  serve({
    'GET /distribution': ({ query }) =>
      query.has('rung')
        ? { people: [{ account: 'a1', displayName: 'Mirela Osk', unit: 'Fleet' }], total: 1, next: null }
        : CROWD,
  });
  ladder(QUESTION);
  const bar = await screen.findByRole('button', { name: 'Ship network: On for 257 accounts' });
  expect(bar).toHaveAttribute('aria-pressed', 'false');
  fireEvent.click(bar);
  expect(bar).toHaveAttribute('aria-pressed', 'true');
});

it('asks for a setting where none is chosen, and tells what is wrong', async () => {
  serve({
    'GET /distribution': () =>
      new Status(404, {
        type: 'urn:lean-ladder:unknown',
        title: 'Unknown',
        status: 404,
        detail: 'There is no unit "fleet".',
      }),
  });
  const { unmount } = ladder({ who: QUESTION.who });
  expect(screen.getByText(/Choose a setting under What/)).toBeInTheDocument();
  unmount();
  ladder(QUESTION);
  expect(await screen.findByText(/There is no unit "fleet"/)).toBeInTheDocument();
});
