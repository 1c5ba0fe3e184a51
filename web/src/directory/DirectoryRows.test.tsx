import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve, type Sent } from '../fakeServer.test-env';
import { DirectoryRows } from './DirectoryRows';

// The list draws the rows in sight, and jsdom has no sizes.
beforeAll(() => {
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(300);
});
afterAll(() => {
  vi.restoreAllMocks();
});

const TOTAL = 1500;
const people = (sent: Sent) => {
  const from = Number(sent.query.get('from') ?? 0);
  const many = Math.min(Number(sent.query.get('count')), TOTAL - from);
  return {
    total: TOTAL,
    rows: Array.from({ length: many }, (_, i) => ({
      id: `p${from + i}`,
      name: `Person ${from + i}`,
      active: true,
      kind: 'person',
    })),
  };
};

let ticked = new Map<string, string>();

function List() {
  const [chosen, setChosen] = useState(new Map<string, string>());
  return (
    <DirectoryRows
      list={{ name: 'people', title: 'People', one: 'person', many: 'people' }}
      filters={{}}
      chosen={chosen}
      onChoose={(next) => {
        ticked = next;
        setChosen(next);
      }}
      onFilter={() => {}}
      onClear={() => {}}
      onOpen={() => {}}
      onGroup={() => {}}
    />
  );
}

const show = () => {
  const sent = serve({ 'GET /directory/people': people, 'GET /drafts': () => ({ drafts: [] }) });
  render(
    <Around at="/directory/people">
      <List />
    </Around>,
  );
  return sent;
};

it('ticks all, those too that are not drawn, a thousand at a time', async () => {
  const sent = show();
  await userEvent.click(await screen.findByRole('button', { name: 'Tick all 1,500' }));
  await vi.waitFor(() => expect(ticked.size).toBe(TOTAL));
  expect(sent.filter((s) => Number(s.query.get('count')) > 100).map((s) => s.query.get('count'))).toEqual([
    '1000',
    '500',
  ]);
});

it('ticks, and unticks, a range with Shift', async () => {
  show();
  const user = userEvent.setup();
  await user.click(await screen.findByLabelText('Choose Person 1'));
  await user.keyboard('{Shift>}');
  await user.click(screen.getByLabelText('Choose Person 4'));
  await vi.waitFor(() => expect([...ticked.keys()]).toEqual(['p1', 'p2', 'p3', 'p4']));
  await user.click(screen.getByLabelText('Choose Person 2'));
  await user.keyboard('{/Shift}');
  await vi.waitFor(() => expect([...ticked.keys()]).toEqual(['p1']));
});
