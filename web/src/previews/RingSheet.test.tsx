import { expect, it } from 'vitest';
import { headline } from './PreviewsView';
import { standingWords } from './ReleaseSheet';
import { leave } from './RingMembers';
import { join } from './RingSheet';

it('writes into the strongest policy of a ring, or makes one', () => {
  const ring = { id: 'dry-dock', name: 'Dry dock', policies: [{ id: 'p', name: 'Dry dock crew' }] };
  expect(join(ring, 'account:a')).toEqual({
    kind: 'put-assignment',
    policy: 'p',
    assignment: { include: 'account:a' },
  });
  expect(join({ ...ring, policies: [] }, 'group:g')).toMatchObject({
    kind: 'add-policy',
    policy: { statements: [{ setting: 'preview.ring', set: 'dry-dock' }], assignments: [{ include: 'group:g' }] },
  });
});

it('takes somebody out by their own line, or by an exception from the line for many', () => {
  expect(leave('p', 'a', 'account:a').kind).toBe('remove-assignment');
  expect(leave('p', 'a', 'group:g')).toEqual({
    kind: 'put-assignment',
    policy: 'p',
    assignment: { except: 'account:a' },
  });
});

it('says to how many a release has come and what keeps it from others', () => {
  expect(standingWords({ has: 616, off: 616, unconsented: 0, kept: 0 })).toBe(
    'it has come to 616 accounts; no policy turns it on for them',
  );
  expect(standingWords({ has: 0, off: 0, unconsented: 0, kept: 0 })).toBe('it has come to nobody yet');
  expect(standingWords({ has: 1, off: 0, unconsented: 2, kept: 3 })).toBe(
    'it has come to 1 account; 2 may and have not consented; another gate keeps it from 3',
  );
});

it('leads with what opens next by itself', () => {
  const at = '2026-11-25T12:00:00Z';
  const rings = [{ id: 'r', name: 'Sea trial' }];
  const release = (day: string, planned: boolean) => ({
    title: 'Captions',
    openings: [{ ring: 'r', at: day, planned }],
  });
  const told = (releases: object[]) => headline({ at, rings, releases } as never, 'UTC');
  expect(told([])).toBe('Nothing is released yet');
  expect(told([release('2026-11-30T12:00:00Z', true)])).toBe('Nothing more opens by itself');
  expect(told([release('2026-11-30T12:00:00Z', false)])).toBe('Next: Captions opens to Sea trial in 5 days');
  expect(told([release('2026-11-25T20:00:00Z', false)])).toBe('Next: Captions opens to Sea trial today');
});
