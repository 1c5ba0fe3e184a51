import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { Status, serve, type Sent } from '../fakeServer.test-env';
import { Selection } from './Selection';

const TICKED = new Map([
  ['a1', 'Mirela Osk'],
  ['a2', 'Rui Mareda'],
]);
const line = (name: string, verdict: string, why = '') => ({ line: 1, text: name, name, verdict, why });

function ticked(more: Record<string, (sent: Sent) => unknown> = {}) {
  const sent = serve({
    'GET /search': ({ query }) => ({
      hits: [
        query.get('kinds') === 'unit'
          ? { kind: 'unit', id: 'stores', title: 'Stores', context: '' }
          : { kind: 'policy', id: 'night-watch', title: 'Night watch', context: '' },
      ],
      readings: [],
    }),
    'POST /addresses': () => ({ fitting: 2, edit: { kind: 'batch' }, lines: [line('Mirela Osk', 'fits')] }),
    'GET /plans': () => ({ plans: [], findings: [] }),
    'POST /drafts': () => draftOf(1),
    'GET /drafts/7': () => draftOf(2, ['staged']),
    'POST /drafts/7/edits': () => draftOf(2, ['staged']),
    ...more,
  });
  const onDone = vi.fn();
  render(
    <Around>
      <Selection chosen={TICKED} onDone={onDone} onGroup={vi.fn()} />
    </Around>,
  );
  return { sent, onDone };
}

async function pick(field: string, typed: string, option: RegExp) {
  fireEvent.change(screen.getByRole('combobox', { name: field }), { target: { value: typed } });
  fireEvent.click(await screen.findByRole('option', { name: option }));
}

const edits = (sent: Sent[]) => (sent.find((s) => s.path.endsWith('/edits'))?.body as { edits: unknown[] }).edits;

it('adds those ticked to a policy as one edit', async () => {
  const { sent, onDone } = ticked();
  expect(screen.getByText('2 accounts ticked')).toBeInTheDocument();
  await pick('A policy, group or plan for those ticked', 'night', /Night watch/);
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(sent.find((s) => s.path === '/addresses')?.body).toEqual({
    text: 'a1\na2',
    adds: true,
    policy: 'night-watch',
  });
  expect(edits(sent)).toEqual([{ kind: 'batch' }]);
});

it('tells who is in already and stages the others', async () => {
  const { sent, onDone } = ticked({
    'POST /addresses': () => ({
      fitting: 1,
      edit: { kind: 'batch' },
      lines: [line('Mirela Osk', 'fits'), line('Rui Mareda', 'already-in', 'is named in Night watch already.')],
    }),
  });
  await pick('A policy, group or plan for those ticked', 'night', /Night watch/);
  expect(await screen.findByRole('alert')).toHaveTextContent('Rui Mareda: is named in Night watch already.');
  expect(edits(sent)).toHaveLength(1);
  expect(onDone).not.toHaveBeenCalled();
});

it('says what is wrong when the draft refuses, and keeps the ticks', async () => {
  const { onDone } = ticked({
    'POST /drafts/7/edits': () =>
      new Status(422, {
        type: 'urn:lean-ladder:refused',
        title: 'Refused',
        status: 422,
        detail: 'One edit does not fit.',
        defects: [{ pointer: '/edits/0', message: 'names a policy that does not exist (any more)' }],
      }),
  });
  await pick('A policy, group or plan for those ticked', 'night', /Night watch/);
  expect(await screen.findByRole('alert')).toHaveTextContent('It names a policy that does not exist (any more).');
  expect(onDone).not.toHaveBeenCalled();
});

it('says so when the server does not answer', async () => {
  ticked({
    'POST /addresses': () => {
      throw new TypeError('gone');
    },
  });
  await pick('A policy, group or plan for those ticked', 'night', /Night watch/);
  expect(await screen.findByRole('alert')).toHaveTextContent('The server does not answer');
});

it('moves and deactivates those ticked, each as one edit', async () => {
  const { sent } = ticked();
  await pick('Move those ticked to a unit', 'stores', /Stores/);
  await waitFor(() => expect(sent.some((s) => s.path.endsWith('/edits'))).toBe(true));
  expect(edits(sent)).toEqual([
    {
      kind: 'batch',
      source: 'a selection',
      edits: ['a1', 'a2'].map((account) => ({ kind: 'amend-account', account, members: { unit: 'stores' } })),
    },
  ]);
  sent.length = 0;
  fireEvent.click(screen.getByText('Deactivate'));
  await waitFor(() => expect(sent.some((s) => s.path.endsWith('/edits'))).toBe(true));
  expect(JSON.stringify(edits(sent))).toContain('"members":{"active":false}');
});
