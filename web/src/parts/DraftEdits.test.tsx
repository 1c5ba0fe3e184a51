import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { draftOf } from '../around.test-env';
import { DraftEdits } from './DraftEdits';

it('says how many edits are left out of a very long draft, where they would stand', () => {
  const draft = draftOf(2, ['The first', 'The second', 'The last']);
  const items = draft.items.map((item, at) => (at === 2 ? { ...item, index: 1999 } : item));
  render(<DraftEdits draft={{ ...draft, items, edits: 2000 }} />);
  expect(screen.getByText('1,997 more edits here, too many to show.')).toBeVisible();
  expect(screen.getAllByRole('listitem')).toHaveLength(3);
});

it('says nothing of the kind where every edit is there', () => {
  render(<DraftEdits draft={draftOf(2, ['The first', 'The second'])} />);
  expect(screen.queryByText(/too many/)).toBeNull();
});
