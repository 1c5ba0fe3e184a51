import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve, type Sent } from '../fakeServer.test-env';
import { LicenceGap } from './LicenceGap';
import { gapParts } from './GapBar';

const offer = (more: object = {}) => ({
  plan: 'add-on',
  name: 'Add-on',
  filled: 10,
  leftOut: 0,
  fresh: 10,
  unfit: [],
  free: 4,
  ahead: 0,
  shortBy: 6,
  price: { amount: '19.00', currency: 'EUR', per: 'month' },
  cost: '1140.00',
  edit: { kind: 'buy-seats', plan: 'add-on', purchase: { seats: 6 } },
  ...more,
});
const needed = (more: object = {}) => ({
  asked: 'Use the assistant',
  who: 'Engineering',
  accounts: 12,
  inForce: 1,
  ready: 2,
  unlicensed: 10,
  beyond: 0,
  turnedOff: 0,
  gaps: [
    {
      need: 'Licence for Assistant',
      accounts: 10,
      alone: 9,
      licence: true,
      within: false,
      settings: ['Use the assistant'],
    },
  ],
  offers: [offer()],
  ...more,
});

const show = (answer: object, others: Parameters<typeof serve>[0] = {}) => {
  serve({ 'GET /licence-gap': () => answer, ...others });
  render(
    <Around at="/seats?list=needed&who=unit:engineering&what=setting:assistant.use">
      <LicenceGap />
    </Around>,
  );
};

it('leads with what is to be bought and what it costs', async () => {
  show(needed());
  expect(await screen.findByRole('heading', { name: /6 seats of Add-on to buy: 1,140.00 EUR a month/ })).toBeVisible();
  expect(screen.getByLabelText('What stands in the way')).toHaveTextContent('nothing else is missing for 9 of them');
});

it('says that nothing stands in the way, or that no seat would help', async () => {
  show(needed({ ready: 12, unlicensed: 0, gaps: [], offers: [] }));
  expect(await screen.findByText(/Nothing stands in the way/)).toBeVisible();
});

it('draws everybody once and says whom a plan does not seat', async () => {
  show(needed({ beyond: 1, turnedOff: 2, offers: [offer({ filled: 8, unfit: [{ kind: 'room', accounts: 2 }] })] }));
  const plans = await screen.findByLabelText('Plans that would do');
  expect(plans).toHaveTextContent('It seats no rooms (2)');
  expect(screen.getByText(/8 of the 10 who lack a licence/)).toBeVisible();
  const told = screen.getByRole('figure');
  expect(told).toHaveTextContent(
    'Of 12 accounts1 has it1 could, but it is turned off for them7 need only a licence2 need a licence, and it is turned off1 fails',
  );
  expect(gapParts({ accounts: 12, inForce: 1, ready: 2, beyond: 1, turnedOff: 2 })).toEqual({
    inForce: 1,
    ready: 1,
    licence: 7,
    licenceAndOff: 2,
    beyond: 1,
  });
});

it('shows what seats carry until something is asked, each leading to what it would take', async () => {
  serve({
    'GET /components': () => ({
      accounts: 640,
      components: [
        { id: 'assistant', name: 'Assistant', alone: true, accounts: 25, plans: [{ id: 'add-on', name: 'Add-on' }] },
        {
          id: 'chat',
          name: 'Chat',
          alone: true,
          accounts: 600,
          plans: ['A', 'B', 'C', 'D'].map((name) => ({ id: name, name })),
        },
        { id: 'scans', name: 'Scans', alone: false, accounts: 0, plans: [] },
      ],
    }),
  });
  render(
    <Around at="/seats?list=needed">
      <LicenceGap />
    </Around>,
  );
  const list = await screen.findByRole('region', { name: 'What seats carry' });
  expect(list).toHaveTextContent('25 of 640 use it');
  expect(list).toHaveTextContent('no plan that runs carries it');
  expect(list).toHaveTextContent('through A, B and 2 more');
  expect(within(list).getAllByRole('listitem')[0]).toHaveTextContent('Scans');
  expect(within(list).getByRole('link', { name: 'Assistant' })).toHaveAttribute(
    'href',
    expect.stringMatching(/list=needed&component=assistant.*who=everyone|who=everyone.*component=assistant/),
  );
  expect(within(list).queryByRole('link', { name: 'Scans' })).toBeNull();
});

it('says that what seats carry cannot be told, and tries again', async () => {
  serve({});
  render(
    <Around at="/seats?list=needed">
      <LicenceGap />
    </Around>,
  );
  expect(await screen.findByRole('button', { name: 'Try again' })).toBeVisible();
});

it('tells what no seat can meet from what is asked for itself', async () => {
  const gap = { accounts: 4, alone: 0, licence: false, settings: [] };
  show(
    needed({
      gaps: [
        { ...gap, need: 'use the assistant on', within: true },
        { ...gap, need: 'release', accounts: 6, within: false },
      ],
    }),
  );
  const way = await screen.findByLabelText('What stands in the way');
  const [most, least] = within(way).getAllByRole('listitem');
  expect(most).toHaveTextContent('Releaseno seat can meet it6all of them fail more');
  expect(least).toHaveTextContent('Use the assistant onpart of what is asked for4');
});

it('stages the edit of a plan that would do', async () => {
  const sent: Sent[] = [];
  show(needed(), {
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': (one) => {
      sent.push(one);
      return draftOf(2, ['6 seats of Add-on are bought']);
    },
  });
  const plans = await screen.findByLabelText('Plans that would do');
  await userEvent.click(within(plans).getByRole('button', { name: 'Add to draft' }));
  expect(sent[0]?.body).toMatchObject({ edits: [{ kind: 'buy-seats', plan: 'add-on' }] });
});

it('asks about a whole family or a component where one is chosen', async () => {
  const sent: string[] = [];
  serve({
    'GET /licence-gap': ({ query }: Sent) => {
      sent.push(query.toString());
      return needed();
    },
    'GET /catalogue': () => ({
      apps: [],
      sizes: [],
      settings: [],
      entitlements: [{ id: 'assistant', name: 'Assistant' }],
      families: [{ id: 'blocks', name: 'Interactive blocks', states: [] }],
    }),
  });
  render(
    <Around at="/seats?list=needed&who=unit:engineering">
      <LicenceGap />
    </Around>,
  );
  const pick = async (name: string) => {
    await userEvent.click(screen.getByRole('combobox', { name: 'A whole family, or a component' }));
    await userEvent.click(await screen.findByRole('option', { name: new RegExp(name) }));
  };
  await screen.findByText('or a whole family, or a component');
  await pick('Interactive blocks');
  expect(await screen.findByRole('heading', { name: /6 seats of Add-on to buy/ })).toBeVisible();
  await pick('Assistant');
  expect(sent[0]).toContain('family=blocks');
  await screen.findByRole('heading', { name: /6 seats of Add-on to buy/ });
  expect(sent.at(-1)).toContain('component=assistant');
});
