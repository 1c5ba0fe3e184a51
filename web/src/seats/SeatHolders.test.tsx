import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { PlanLine } from '../api/client';
import { Around } from '../around.test-env';
import { serve, Status, type Sent } from '../fakeServer.test-env';
import { SeatHolders } from './SeatHolders';

// The list draws the rows in sight, and jsdom has no sizes.
beforeAll(() => {
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(320);
});
afterAll(() => {
  vi.restoreAllMocks();
});

const plan = (more: Partial<PlanLine> = {}): PlanLine => ({
  id: 'desk-plan',
  name: 'Desk plan',
  term: 'running',
  components: [],
  kinds: ['person'],
  note: '',
  seats: 114,
  held: 114,
  free: 0,
  waiting: 5,
  lowest: 114,
  claimants: 119,
  rules: 4,
  steps: [],
  ...more,
});
const claim = (account: string, name: string, more: object = {}) => ({
  account,
  displayName: name,
  unit: 'Shore office',
  rule: 2,
  ruleWords: 'Shore office',
  place: 1,
  ...more,
});
const page = (claims: object[], next: string | null = null) => ({ accounts: claims.length, claims, next });
const WAITING = [claim('oda.pell', 'Oda Pell', { place: 1 }), claim('ruan.osk', 'Ruan Osk', { place: 2 })];
const HELD = [claim('ana.kittow', 'Ana Kittow', { since: '2026-08-01T08:00:00Z', lastSeen: '2026-11-24' })];

const show = (line = plan(), claims: (sent: Sent) => unknown = both) => {
  const onEdit = vi.fn();
  serve({
    'GET /plans/desk-plan/claims': claims,
    'GET /plans': () => ({
      plans: [plan(), plan({ id: 'deck-plan', name: 'Deck plan', free: 3 }), plan({ id: 'winter', term: 'over' })],
      findings: [],
    }),
  });
  render(
    <Around at="/seats/desk-plan">
      <SeatHolders plan={line} zone="UTC" onEdit={onEdit} />
    </Around>,
  );
  return onEdit;
};
const both = ({ query }: Sent) => page(query.get('which') === 'held' ? HELD : WAITING);

it('begins with those who wait, in the order of the line, and says when a seat may come', async () => {
  show(plan({ steps: [{ at: '2026-12-02T07:00:00Z', seats: 124 }] }));
  const list = await screen.findByRole('list', { name: 'Who waits' });
  const rows = within(list).getAllByRole('listitem');
  expect(rows.map((row) => within(row).getByRole('link').textContent)).toEqual(['Oda Pell', 'Ruan Osk']);
  expect(screen.getByText(/^10 more seats from Wed 2 Dec, 07:00/)).toBeVisible();
});

it('says that no seat is bought yet, where none is', async () => {
  show();
  expect(await screen.findByText(/No further seat is bought yet/)).toBeVisible();
});

it('tells of those who hold a seat by which rule, since when, and when they were seen last', async () => {
  show(plan({ waiting: 0 }));
  const list = await screen.findByRole('list', { name: 'Who holds a seat' });
  expect(list).toHaveTextContent('rule 2, Shore office');
  expect(list).toHaveTextContent('since 1 Aug, seen 24 Nov');
});

it('never shows holders as people who wait while these are looked up', async () => {
  let answer: (value: unknown) => void = () => undefined;
  show(plan({ waiting: 0 }), (sent) =>
    sent.query.get('which') === 'held' ? page(HELD) : new Promise((resolve) => (answer = resolve)),
  );
  await screen.findByText('Ana Kittow');
  await userEvent.click(screen.getByRole('button', { name: '0 wait' }));
  expect(screen.queryByText('Ana Kittow')).toBeNull();
  expect(screen.getByText('Looking…')).toBeVisible();
  answer(page([]));
  expect(await screen.findByText('Nobody waits.')).toBeVisible();
});

it('takes the seat of one, or lets one go first', async () => {
  const onEdit = show();
  const [first] = await screen.findAllByRole('button', { name: 'Move to front' });
  await userEvent.click(first as HTMLElement);
  expect(onEdit).toHaveBeenLastCalledWith([{ kind: 'give-seats', plan: 'desk-plan', accounts: ['oda.pell'] }]);
  await userEvent.click(screen.getByRole('button', { name: '114 hold a seat' }));
  await userEvent.click(await screen.findByRole('button', { name: 'Take back' }));
  expect(onEdit).toHaveBeenLastCalledWith([{ kind: 'take-seats', plan: 'desk-plan', accounts: ['ana.kittow'] }]);
});

it('moves those who are ticked to another plan in one edit, and never to one that is over', async () => {
  const onEdit = show();
  await userEvent.click(await screen.findByRole('checkbox', { name: 'Choose Oda Pell' }));
  const ticked = screen.getByRole('region', { name: 'Those ticked' });
  expect(ticked).toHaveTextContent('1 account ticked');
  await userEvent.click(within(ticked).getByRole('combobox'));
  const option = await screen.findByRole('option', { name: 'Deck plan, 3 free' });
  expect(screen.getAllByRole('option')).toHaveLength(1);
  await userEvent.click(option);
  expect(onEdit.mock.calls[0]?.[0]).toMatchObject([
    {
      kind: 'batch',
      edits: [
        { kind: 'take-seats', plan: 'desk-plan', accounts: ['oda.pell'] },
        { kind: 'give-seats', plan: 'deck-plan', accounts: ['oda.pell'] },
      ],
    },
  ]);
  expect(screen.queryByRole('region', { name: 'Those ticked' })).toBeNull();
});

it('forgets who was ticked where the other side is looked at', async () => {
  show();
  await userEvent.click(await screen.findByRole('checkbox', { name: 'Choose Oda Pell' }));
  await userEvent.click(screen.getByRole('button', { name: '114 hold a seat' }));
  await screen.findByText('Ana Kittow');
  expect(screen.queryByRole('region', { name: 'Those ticked' })).toBeNull();
});

it('says what is wrong in place of a list', async () => {
  const detail = 'The database is away; try again in a moment.';
  show(plan(), () => new Status(503, { status: 503, title: 'The database is away', detail }));
  expect(await screen.findByText(detail)).toBeVisible();
  expect(screen.queryByText('Nobody waits.')).toBeNull();
});
