import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { Setting } from '../api/client';
import { Around } from '../around.test-env';
import { serve, type Sent } from '../fakeServer.test-env';
import { moved } from './cellMoves';
import { Matrix } from './Matrix';

// The grid draws the cells in sight, and jsdom has no sizes.
beforeAll(() => {
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(400);
  vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(900);
});
afterAll(() => {
  vi.restoreAllMocks();
});

const SETTINGS = [
  { key: 'chat.private', title: 'Talk between two', type: 'switch' },
  { key: 'files.share', title: 'Share outside', type: 'switch' },
] as Setting[];
const row = (id: string, name: string, depth: number, openable: boolean, open: boolean) => ({
  kind: 'unit',
  id,
  name,
  depth,
  accounts: 10,
  openable,
  open,
  cells: SETTINGS.map(() => ({ shares: [{ value: 'On', inForce: true, accounts: 10 }] })),
});
const rows = (sent: Sent) => {
  const open = (sent.body as { open: string[] }).open.includes('fleet');
  const all = [
    row('all', 'Skerrymore', 0, false, true),
    row('fleet', 'Fleet', 1, true, open),
    ...(open ? [row('heron', 'MV Heron', 2, false, false)] : []),
  ];
  return { change: 3, total: all.length, firstColumn: 0, rows: all, found: null, opened: [] };
};

const show = () => {
  const sent = serve({ 'POST /matrix': rows, 'GET /drafts': () => ({ drafts: [] }) });
  const onStand = vi.fn();
  render(
    <Around at="/matrix">
      <Matrix
        settings={SETTINGS}
        rows="units"
        zone="UTC"
        at={{}}
        title="Every setting"
        onStand={onStand}
        onColumn={() => {}}
        onClearFilter={() => {}}
      />
    </Around>,
  );
  return { sent, onStand };
};

it('says how much it shows, and opens a row with Space where the keys stand', async () => {
  show();
  expect(await screen.findByText(/2 rows, 2 settings/)).toBeVisible();
  const user = userEvent.setup();
  screen.getByRole('grid').focus();
  await user.keyboard('{ArrowDown} ');
  expect(await screen.findByText(/3 rows, 2 settings/)).toBeVisible();
  expect((await screen.findAllByText('MV Heron')).length).toBeGreaterThan(0);
});

it('tells where one stands once one rests', async () => {
  const { onStand } = show();
  await screen.findByText(/2 rows/);
  screen.getByRole('grid').focus();
  await userEvent.keyboard('{ArrowDown}{ArrowRight}');
  await waitFor(() => expect(onStand).toHaveBeenCalledWith('unit:fleet', 'files.share'), { timeout: 5000 });
});

it('moves by keys', () => {
  const from = { row: 5, column: 2 };
  expect(moved('PageUp', false, from, 100, 10, 20)).toEqual({ row: -15, column: 2 });
  expect(moved('End', false, from, 100, 10, 20)).toEqual({ row: 5, column: 9 });
  expect(moved('End', true, from, 100, 10, 20)).toEqual({ row: 99, column: 9 });
  expect(moved('Enter', false, from, 100, 10, 20)).toBeUndefined();
});
