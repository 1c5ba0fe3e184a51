import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { NewEntity } from './NewEntity';

it('opens the group that it created', async () => {
  localStorage.setItem('current draft', '7');
  serve({
    'GET /drafts/7': () => draftOf(1, []),
    'POST /drafts/7/edits': () => {
      const after = draftOf(2, ['Pilots is a new access group']);
      return { ...after, items: after.items.map((item) => ({ ...item, added: 'pilots' })) };
    },
  });
  const created = vi.fn();
  render(
    <Around>
      <NewEntity list="groups" onClose={vi.fn()} onCreated={created} />
    </Around>,
  );
  fireEvent.change(await screen.findByLabelText('Name'), { target: { value: 'Pilots' } });
  fireEvent.click(screen.getByRole('button', { name: 'Create' }));
  await waitFor(() => expect(created).toHaveBeenCalledWith('pilots'));
});
