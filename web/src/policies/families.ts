import type { Family } from '../api/client';
import { lineKey, type Line } from './policyDiff';

/** A family of which a policy sets some settings and not all: whoever sets one and forgets two has a broken pilot. */
export interface IncompleteFamily {
  family: Family;
  set: string[];
  missing: string[];
}

const keysOf = (family: Family) => [...new Set(family.states.flatMap((state) => Object.keys(state.values)))];

/** The families that these lines speak on by half. Caps do not count: they set nothing. */
export function incompleteFamilies(families: Family[], lines: Line[]): IncompleteFamily[] {
  const spoken = new Set(lines.filter((l) => l.says !== 'cap').map((l) => l.setting));
  return families
    .map((family) => {
      const keys = keysOf(family);
      return { family, set: keys.filter((k) => spoken.has(k)), missing: keys.filter((k) => !spoken.has(k)) };
    })
    .filter((half) => half.set.length > 0 && half.missing.length > 0);
}

/** The lines with a family brought to one of its states: all its settings set, locks kept, everything else as it was. */
export function completed(lines: Line[], state: Family['states'][number]): Line[] {
  const kept = lines.map((line) =>
    line.says !== 'cap' && line.setting in state.values ? { ...line, value: state.values[line.setting] } : line,
  );
  const there = new Set(kept.map(lineKey));
  const added = Object.entries(state.values)
    .map(([setting, value]): Line => ({ setting, says: 'set', value }))
    .filter((line) => !there.has(lineKey(line)));
  return [...kept, ...added];
}
