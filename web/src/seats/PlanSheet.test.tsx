import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { PlanSheet } from './PlanSheet';

const LINE = {
  id: 'desk-plan',
  name: 'Desk plan',
  term: 'running',
  components: [
    { id: 'chat', name: 'Chat' },
    { id: 'pages', name: 'Pages' },
  ],
  kinds: ['person', 'room'],
  price: { amount: '11.00', currency: 'EUR', per: 'month' },
  note: '',
  seats: 114,
  held: 114,
  free: 0,
  waiting: 5,
  lowest: 114,
  claimants: 119,
  rules: 1,
  steps: [],
};
const VIEW = {
  plan: LINE,
  purchases: [{ seats: 114, holds: true, written: { seats: 114 } }],
  rules: [
    {
      include: true,
      target: 'unit:commercial',
      whom: 'Commercial',
      off: [],
      holds: true,
      accounts: 51,
      overruled: [],
      written: { include: 'unit:commercial' },
    },
  ],
  course: [{ at: '2026-12-02T02:00:00Z', seats: 114, held: 114, waiting: 5, carries: true, why: [] }],
  places: [{ unit: 'commercial', name: 'Commercial', depth: 0, accounts: 51, held: 46, waiting: 5 }],
};

const show = (others: Parameters<typeof serve>[0] = {}) => {
  const sent = serve({
    'GET /plans/desk-plan': () => VIEW,
    'GET /plans/desk-plan/claims': () => ({ accounts: 0, claims: [], next: null }),
    'GET /plans/desk-plan/moves': () => ({ moves: [] }),
    'GET /catalogue': () => ({
      apps: [],
      sizes: [],
      settings: [],
      families: [],
      entitlements: [
        { id: 'chat', name: 'Chat' },
        { id: 'pages', name: 'Pages' },
      ],
    }),
    'GET /drafts': () => ({ drafts: [] }),
    ...others,
  });
  const onClose = vi.fn();
  render(
    <Around at="/seats/desk-plan">
      <PlanSheet id="desk-plan" zone="UTC" onClose={onClose} />
    </Around>,
  );
  return { sent, onClose };
};

it('says what a seat carries, who has one and where they sit', async () => {
  show();
  expect(await screen.findByRole('region', { name: 'Plan Desk plan' })).toBeVisible();
  expect(screen.getByLabelText('Components')).toHaveTextContent(/Chat.*Pages/);
  expect(screen.getByLabelText('Where the seats sit')).toHaveTextContent(/Commercial.*46/);
  expect(screen.getByText('5 wait')).toBeVisible();
});

it('says why an edit is refused', async () => {
  const problem = {
    title: 'Not a change',
    status: 422,
    defects: [{ pointer: '/edits/0/members/components', message: 'must not be empty' }],
  };
  const { sent } = show({
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': () => new Status(422, problem),
  });
  const user = userEvent.setup();
  await user.click(await screen.findByRole('button', { name: /Chat/ }));
  expect(await screen.findByText(/must not be empty/)).toHaveAttribute('role', 'alert');
  await waitFor(() => expect(sent.some((s) => s.method === 'POST')).toBe(true));
});

it('says that there is no such plan, and closes', async () => {
  const { onClose } = show({
    'GET /plans/desk-plan': () =>
      new Status(404, { title: 'Not here', status: 404, detail: 'There is no plan "desk-plan".' }),
  });
  expect(await screen.findByRole('alert')).toHaveTextContent('There is no plan');
  await userEvent.click(screen.getByRole('button', { name: 'Close' }));
  expect(onClose).toHaveBeenCalled();
});
