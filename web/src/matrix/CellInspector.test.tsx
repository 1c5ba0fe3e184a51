import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { Setting, MatrixRowData } from '../api/client';
import { Around, STILL, draftOf } from '../around.test-env';
import { Status, serve, type Sent } from '../fakeServer.test-env';
import { CellInspector } from './CellInspector';
import type { CellInput } from './parseCellInput';

const ROW: MatrixRowData = {
  kind: 'unit',
  id: 'engineering',
  name: 'Engineering',
  depth: 1,
  accounts: 82,
  openable: true,
  open: false,
  cells: [],
};
const SETTING = { key: 'chat.private', title: 'Talk between two', type: 'switch' } as Setting;
const CROWD = {
  change: 3,
  name: 'Engineering',
  kind: 'unit',
  setting: 'Talk between two',
  app: 'Chat',
  accounts: 82,
  values: [],
  rungs: [
    {
      height: 'organisation',
      segments: [
        { policy: 'house-rules', name: 'House rules', value: 'On', accounts: 60, standing: 'set', blockedBy: null },
        { policy: null, name: null, value: 'Off', accounts: 22, standing: 'builtin', blockedBy: null },
      ],
    },
  ],
};
const way = (name: string, first: boolean, accounts: number, more: object = {}) => ({
  name,
  first,
  fresh: false,
  edit: { kind: 'put-statement', policy: name },
  ripple: { ...STILL, accounts },
  ...more,
});

function strip(ways: object[], typed: CellInput | undefined, more: Record<string, (sent: Sent) => unknown> = {}) {
  const sent = serve({
    'GET /distribution': () => CROWD,
    'GET /ways': () => ({ ways }),
    'POST /drafts': () => draftOf(1),
    'GET /drafts/7': () => draftOf(2, ['staged']),
    'POST /drafts/7/edits': () => draftOf(2, ['staged']),
    ...more,
  });
  const onTyped = vi.fn();
  const onDone = vi.fn();
  render(
    <Around>
      <CellInspector row={ROW} setting={SETTING} question={{}} typed={typed} onTyped={onTyped} onDone={onDone} />
    </Around>,
  );
  return { sent, onTyped, onDone };
}

const staged = (sent: Sent[]) => (sent.find((s) => s.path.endsWith('/edits'))?.body as { edits: object[] }).edits;

it('explains the cell by the statements that decide most', async () => {
  strip([], undefined);
  await waitFor(() =>
    expect(screen.getByRole('region', { name: 'The cell' })).toHaveTextContent(
      'Engineering · Talk between two · 82 accountsOn for 60 by House rules; Off for 22 by the catalogue',
    ),
  );
});

it('stages a typed value in the policy aimed at exactly this unit, with wider ones beside it', async () => {
  const { sent, onDone } = strip([way('Workshop phones', true, 52), way('House rules', false, 616)], {
    text: 'off',
    value: false,
  });
  await screen.findByText('in House rules');
  expect(screen.getByText('changes 616 accounts')).toBeInTheDocument();
  expect(sent.find((s) => s.path === '/ways')?.query.get('value')).toBe('false');
  fireEvent.click(screen.getByText('Add to draft'));
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(staged(sent)).toEqual([{ kind: 'put-statement', policy: 'Workshop phones' }]);
});

it('takes another way when that is pressed', async () => {
  const { sent, onDone } = strip([way('Workshop phones', true, 52), way('House rules', false, 616)], {
    text: 'off',
    value: false,
  });
  fireEvent.click(await screen.findByText('in House rules'));
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(staged(sent)).toEqual([{ kind: 'put-statement', policy: 'House rules' }]);
});

it('to say nothing any more is staged by itself only in the policy of exactly this unit', async () => {
  const { sent, onDone } = strip([way('House rules', false, 616)], { text: '', silent: true });
  await screen.findByText('No policy aimed at exactly Engineering sets it; these set it for others too:');
  expect(sent.find((s) => s.path === '/ways')?.query.has('value')).toBe(false);
  expect(screen.queryByText('Add to draft')).toBeNull();
  const form = screen.getByText('no more in House rules').closest('form') as HTMLFormElement;
  fireEvent.submit(form);
  fireEvent.click(screen.getByText('no more in House rules'));
  await waitFor(() => expect(onDone).toHaveBeenCalledTimes(1));
  expect(sent.filter((s) => s.path.endsWith('/edits'))).toHaveLength(1);
});

it('keeps what was typed when staging is refused, and says why', async () => {
  const { onTyped } = strip(
    [way('Workshop phones', true, 52)],
    { text: 'off', value: false },
    {
      'POST /drafts/7/edits': () =>
        new Status(422, {
          type: 'urn:lean-ladder:refused',
          title: 'Refused',
          status: 422,
          detail: 'One edit does not fit.',
          defects: [{ pointer: '/edits/0/policy', message: 'names a policy that does not exist (any more)' }],
        }),
    },
  );
  fireEvent.click(await screen.findByText('Add to draft'));
  expect(await screen.findByRole('alert')).toHaveTextContent('It names a policy that does not exist (any more).');
  expect(onTyped).not.toHaveBeenCalled();
});
