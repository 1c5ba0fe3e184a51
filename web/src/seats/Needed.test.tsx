import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve, type Sent } from '../fakeServer.test-env';
import { Needed } from './Needed';

const offer = (more: object = {}) => ({
  plan: 'add-on',
  name: 'Add-on',
  filled: 10,
  leftOut: 0,
  fresh: 10,
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
  gaps: [{ need: 'Licence for Assistant', accounts: 10, alone: 9, licence: true, settings: ['Use the assistant'] }],
  offers: [offer()],
  ...more,
});

const show = (answer: object, others: Parameters<typeof serve>[0] = {}) => {
  serve({ 'GET /needed': () => answer, ...others });
  render(
    <Around at="/seats?list=needed&who=unit:engineering&what=setting:assistant.use">
      <Needed />
    </Around>,
  );
};

it('leads with what is to be bought and what it costs', async () => {
  show(needed());
  expect(await screen.findByRole('heading', { name: /6 seats of Add-on to buy: 1,140.00 EUR a month/ })).toBeVisible();
  expect(screen.getByLabelText('What stands in the way')).toHaveTextContent('9 of them fail nothing else');
});

it('says that nothing stands in the way, or that no seat would help', async () => {
  show(needed({ ready: 12, unlicensed: 0, gaps: [], offers: [] }));
  expect(await screen.findByText(/Nothing stands in the way/)).toBeVisible();
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
  await userEvent.click(within(plans).getByRole('button', { name: 'Stage it' }));
  expect(sent[0]?.body).toMatchObject({ edits: [{ kind: 'buy-seats', plan: 'add-on' }] });
});

it('asks about a whole family or a component where one is chosen', async () => {
  const sent: string[] = [];
  serve({
    'GET /needed': ({ query }: Sent) => {
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
      <Needed />
    </Around>,
  );
  await screen.findByRole('option', { name: 'Interactive blocks' });
  await userEvent.selectOptions(screen.getByLabelText('A whole family, or a component'), 'Interactive blocks');
  expect(await screen.findByRole('heading', { name: /6 seats of Add-on to buy/ })).toBeVisible();
  await userEvent.selectOptions(screen.getByLabelText('A whole family, or a component'), 'Assistant');
  expect(sent[0]).toContain('family=blocks');
  await screen.findByRole('heading', { name: /6 seats of Add-on to buy/ });
  expect(sent.at(-1)).toContain('component=assistant');
});
