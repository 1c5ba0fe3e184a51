import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { Draft } from '../api/client';
import { Around, draftOf } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { ConflictList } from './ConflictList';

const CHANGE = {
  number: 4,
  at: '2026-11-23T14:20:00Z',
  author: 'Vera Quill',
  proven: false,
  note: '',
  planned: null,
  late: false,
};

const EDIT = { kind: 'remove-policy', policy: 'house-rules' } as const;

const item = (index: number, more: Partial<Draft['items'][number]>): Draft['items'][number] => ({
  index,
  step: index,
  words: '',
  conflicts: [],
  refusals: [],
  added: null,
  cancelled: false,
  ...more,
});

function shown(items: Draft['items']) {
  localStorage.setItem('current draft', '7');
  const troubled = items.filter((i) => i.conflicts.length + i.refusals.length > 0).length;
  const draft = draftOf(5, [], { items, troubled, stands: false });
  const sent = serve({ 'GET /drafts/7': () => draft, 'POST /drafts/7/choose': () => draftOf(6, ['one']) });
  render(
    <Around>
      <ConflictList draft={draft} zone="UTC" />
    </Around>,
  );
  return sent;
}

it('says nothing while every edit stands', () => {
  shown([item(0, { words: 'House rules is called Ship rules' })]);
  expect(screen.queryByRole('alert')).toBeNull();
});

it('shows both sides of a clash and puts mine on top when that is chosen', async () => {
  const sent = shown([
    item(0, { words: 'fine' }),
    item(1, {
      conflicts: [
        {
          yours: EDIT,
          theirs: EDIT,
          yoursInWords: 'House rules is called Mine',
          theirsInWords: 'House rules is called Theirs',
          change: CHANGE,
        },
      ],
    }),
  ]);
  const alert = screen.getByRole('alert');
  expect(alert).toHaveTextContent('1 edit conflicts; choose before publishing');
  expect(alert).toHaveTextContent(
    'Change 4 by Vera Quill, Mon 23 Nov, 14:20: House rules is called Theirs. Yours: House rules is called Mine.',
  );
  fireEvent.click(screen.getByText('Use mine'));
  await waitFor(() =>
    expect(sent.find((s) => s.path.endsWith('/choose'))?.body).toEqual({ version: 5, index: 1, keep: 'mine' }),
  );
});

it('offers only to keep theirs where mine cannot be carried out any more', () => {
  shown([
    item(0, {
      conflicts: [
        { yours: EDIT, theirs: EDIT, yoursInWords: '', theirsInWords: 'House rules is deleted', change: CHANGE },
      ],
    }),
  ]);
  expect(screen.getByRole('alert')).toHaveTextContent('Yours: can no longer be carried out.');
  expect(screen.queryByText('Use mine')).toBeNull();
  expect(screen.getByText('Use theirs')).toBeInTheDocument();
});

it('tells why an edit is refused and lets it be left out', async () => {
  const sent = shown([
    item(0, {
      refusals: [{ pointer: '/edits/0/group', message: 'names the group "x", which does not exist (any more)' }],
    }),
    item(1, { refusals: [{ pointer: '/edits/1/group', message: 'is no member of Night watch (any more)' }] }),
  ]);
  expect(screen.getByRole('alert')).toHaveTextContent('2 edits conflict');
  expect(screen.getByRole('alert')).toHaveTextContent('It is no member of Night watch (any more).');
  fireEvent.click(screen.getAllByText('Remove this edit')[1] as HTMLElement);
  await waitFor(() =>
    expect(sent.find((s) => s.path.endsWith('/choose'))?.body).toEqual({ version: 5, index: 1, keep: 'theirs' }),
  );
});

it('counts those that are too many to be told, too', () => {
  render(
    <Around>
      <ConflictList
        draft={draftOf(5, [], {
          items: [item(0, { conflicts: [], refusals: [{ pointer: '', message: 'does not fit' }] })],
          troubled: 1200,
          stands: false,
        })}
        zone="UTC"
      />
    </Around>,
  );
  expect(screen.getByRole('alert')).toHaveTextContent('1,200 edits conflict');
  expect(screen.getByRole('alert')).toHaveTextContent(
    '1,199 more edits come into this list as you decide about these.',
  );
});
