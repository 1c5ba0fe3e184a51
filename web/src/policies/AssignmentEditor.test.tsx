import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import type { Assignment } from '../api/client';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { AssignmentEditor } from './AssignmentEditor';

const SHIPS = ['MV Heron', 'MV Plover', 'MV Tern', 'MV Dunlin'];
const NAMES: Record<string, string> = {
  'group:stewards': 'Safety stewards',
  'unit:deck': 'Fleet › MV Heron › Deck',
  ...Object.fromEntries(SHIPS.map((ship, i) => [`unit:b${i}`, `Fleet › ${ship} › Bridge`])),
};

function show(assignments: Assignment[]) {
  serve({});
  const onChange = vi.fn();
  render(
    <Around at="/policies/p">
      <AssignmentEditor
        assignments={assignments}
        names={NAMES}
        zone="UTC"
        told={new Map()}
        onName={vi.fn()}
        onChange={onChange}
        onHold={vi.fn()}
      />
    </Around>,
  );
  return onChange;
}

const bridges = SHIPS.map((_, i) => ({ include: `unit:b${i}` }));

it('shows units of one name as one line that unfolds and can be removed at once', async () => {
  const onChange = show([...bridges, { include: 'unit:deck' }, { except: 'group:stewards' }]);
  const included = screen.getByRole('list', { name: 'Included' });
  expect(within(included).getAllByRole('listitem')).toHaveLength(2);
  expect(included).toHaveTextContent('Bridge in 4 units');
  await userEvent.click(screen.getByRole('button', { name: 'Bridge in 4 units' }));
  expect(included).toHaveTextContent('Fleet › MV Tern › Bridge');
  await userEvent.click(screen.getByRole('button', { name: 'Remove Bridge in 4 units' }));
  expect(onChange).toHaveBeenCalledWith([{ include: 'unit:deck' }, { except: 'group:stewards' }]);
});

it('keeps units apart whose windows differ', () => {
  show(bridges.map((b, i) => ({ ...b, until: `2026-12-0${i + 1}T00:00:00Z` })));
  expect(within(screen.getByRole('list', { name: 'Included' })).getAllByRole('listitem')).toHaveLength(4);
});

it('removes everybody at once', async () => {
  const onChange = show([...bridges, { except: 'group:stewards' }]);
  await userEvent.click(screen.getByRole('button', { name: 'Remove all 5' }));
  expect(onChange).toHaveBeenCalledWith([]);
});
