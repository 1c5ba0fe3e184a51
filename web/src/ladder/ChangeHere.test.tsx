import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around, draftOf, STILL } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import type { Schemas } from '../api/client';
import { ChangeHere, left, ordered } from './ChangeHere';

type WayLine = Schemas['WayLine'];

const EDIT = { kind: 'remove-policy', policy: 'house-rules' } as const;
const way = (name: string, more: Partial<WayLine> = {}): WayLine => ({
  name,
  first: false,
  fresh: false,
  excepts: false,
  edit: EDIT,
  ripple: { ...STILL, accounts: 1, gain: 1 },
  leaves: 0,
  blocked: 0,
  ...more,
});
const names = (ways: WayLine[], accounts: number) => ordered(ways, accounts).map((w) => w.name);

it('puts first what alters least, and last what leaves everybody as they are or cannot be done', () => {
  const wide = way('wide', { ripple: { ...STILL, accounts: 57, gain: 57 } });
  const idle = way('idle', { leaves: 4, ripple: { ...STILL } });
  const some = way('some', { leaves: 1, ripple: { ...STILL, accounts: 3, gain: 3 } });
  const refused = way('refused', { refusal: 'does not fit', ripple: undefined });
  expect(names([refused, idle, some, wide, way('narrow')], 4)).toEqual(['narrow', 'wide', 'some', 'idle', 'refused']);
});

it('says whom a way leaves without the value, and why', () => {
  expect(left(way('all'), 4)).toBe('');
  expect(left(way('some', { leaves: 1 }), 4)).toBe('It leaves out 1 person.');
  expect(left(way('none', { leaves: 4, blocked: 3 }), 4)).toBe(
    'It changes nothing for those asked about; for 3 people a closed gate blocks it.',
  );
  expect(left(way('one', { leaves: 1, stays: 'No. Quiet bridge locks it.' }), 1)).toBe(
    'It would then be: No. Quiet bridge locks it.',
  );
});

it('adds the first way to the draft with Enter, and shows the answer after it', async () => {
  let edits = 0;
  const sent = serve({
    'GET /catalogue': () => ({
      apps: {},
      entitlements: {},
      sizes: [],
      families: [],
      settings: [{ key: 'chat.private', title: 'Talk between two', type: 'switch' }],
    }),
    'GET /ways': () => ({ ways: [way('Wide', { ripple: { ...STILL, accounts: 57, gain: 57 } }), way('Narrow')] }),
    'POST /drafts': () => draftOf(1),
    'GET /drafts/7': () => draftOf(1 + edits),
    'POST /drafts/7/edits': () => draftOf(1 + ++edits, ['Narrow sets it']),
  });
  render(
    <Around at="/ladder?who=account:mirela.osk&what=setting:chat.private">
      <ChangeHere accounts={1} current={false} />
    </Around>,
  );
  expect(await screen.findByRole('button', { name: 'Off' })).toBeDisabled();
  fireEvent.click(screen.getByRole('button', { name: 'On' }));
  await waitFor(() => expect(screen.getAllByRole('listitem')[0]).toHaveTextContent('In Narrow'));
  expect(screen.getAllByRole('button', { name: 'Add to draft' })[0]).toHaveFocus();
  fireEvent.click(screen.getAllByRole('button', { name: 'Add to draft' })[0] as HTMLElement);
  await waitFor(() => expect(screen.queryByRole('list', { name: 'Ways' })).toBeNull());
  expect(JSON.stringify(sent)).toContain('remove-policy');
});
