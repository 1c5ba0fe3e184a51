import { expect, it } from 'vitest';
import { joined } from './UnitImpact';

const unit = (name: string, depth: number, accounts: number) => ({
  id: name,
  name,
  depth,
  accounts,
  gain: accounts,
  lose: 0,
  both: 0,
  other: 0,
  everyone: 100,
});

it('puts a unit and the only one below it that changes into one row, and keeps all others', () => {
  const rows = joined([
    unit('Fleet', 0, 14),
    unit('Heron', 1, 7),
    unit('Bridge', 2, 7),
    unit('Port', 3, 7),
    unit('Plover', 1, 7),
    unit('Bridge', 2, 3),
    unit('Deck', 2, 4),
    unit('Crane', 3, 4),
  ]);
  expect(rows.map((r) => [r.name, r.depth])).toEqual([
    ['Fleet', 0],
    ['Heron / Bridge / Port', 1],
    ['Plover', 1],
    ['Bridge', 2],
    ['Deck / Crane', 2],
  ]);
});
