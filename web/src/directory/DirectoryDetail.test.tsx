import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { DirectoryDetail } from './DirectoryDetail';

const UNIT = {
  id: 'commercial',
  name: 'Commercial',
  path: [
    { id: 'skerrymore', name: 'Skerrymore Ferries' },
    { id: 'commercial', name: 'Commercial' },
  ],
  accounts: 51,
  inactive: 0,
  direct: 0,
  children: [{ id: 'bookings', name: 'Bookings', accounts: 22 }],
  usedBy: [{ kind: 'unit', id: 'bookings', name: 'Bookings', words: 'the unit Bookings' }],
  policies: [{ id: 'loading', name: 'Loading plans', include: true, assignment: { include: 'unit:commercial' } }],
};

const show = (entry: unknown, others: Parameters<typeof serve>[0] = {}) => {
  const sent = serve({
    'GET /directory/units/commercial': () => entry,
    'GET /changes': () => ({ changes: [], next: null }),
    'GET /drafts': () => ({ drafts: [] }),
    ...others,
  });
  const onOpen = vi.fn();
  const onClose = vi.fn();
  render(
    <Around at="/directory/units/commercial">
      <DirectoryDetail list="units" id="commercial" zone="UTC" onClose={onClose} onOpen={onOpen} />
    </Around>,
  );
  return { sent, onOpen, onClose };
};

it('shows a unit with what is below it and what uses it, and opens what is below', async () => {
  const { onOpen } = show(UNIT);
  expect(await screen.findByText('Loading plans')).toBeVisible();
  await userEvent.click(screen.getByRole('button', { name: 'Bookings' }));
  expect(onOpen).toHaveBeenCalledWith('units', 'bookings');
});

it('renames by typing over the name', async () => {
  const { sent } = show(UNIT, {
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': () => draftOf(2, ['Commercial is called Sales']),
  });
  const user = userEvent.setup();
  const name = await screen.findByLabelText('Name');
  await user.clear(name);
  await user.type(name, 'Sales{Enter}');
  await vi.waitFor(() =>
    expect(sent.filter((s) => s.path.endsWith('/edits')).map((s) => JSON.stringify(s.body))).toEqual([
      expect.stringContaining('"members":{"name":"Sales"}'),
    ]),
  );
});

it('says what is not there, and closes', async () => {
  const { onClose } = show(
    new Status(404, { title: 'Not here', status: 404, detail: 'There is no unit "commercial".' }),
  );
  expect(await screen.findByRole('alert')).toHaveTextContent('There is no unit');
  await userEvent.click(screen.getByRole('button', { name: 'Close' }));
  expect(onClose).toHaveBeenCalled();
});
