import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { CatalogueUpdate } from './CatalogueUpdate';

const UPDATE = {
  added: [{ id: 'tides.show', name: 'Show tides' }],
  amended: [{ key: 'files.keep', title: 'Keep for', words: ['Keep for can take other values'] }],
  removed: [],
  misfits: [
    {
      policy: 'p2',
      name: 'Room rules',
      key: 'files.keep',
      title: 'Keep for',
      says: '60',
      cap: false,
      lock: false,
      setting: { key: 'files.keep', title: 'Keep for', type: 'number', min: 0, max: 45, default: 30 },
    },
  ],
  refusals: [],
  edit: { kind: 'batch', source: 'autumn.json', edits: [{ kind: 'add-setting', setting: { key: 'tides.show' } }] },
};

const show = (answer: unknown = UPDATE) => {
  const sent = serve({
    'POST /catalogue/update': () => answer,
    'POST /drafts': () => ({ id: 7, version: 0, items: [], steps: [] }),
    'POST /drafts/7/edits': () => ({ id: 7, version: 1, items: [], steps: [] }),
  });
  const onClose = vi.fn();
  render(
    <Around>
      <CatalogueUpdate onClose={onClose} />
    </Around>,
  );
  return { sent, onClose };
};

const choose = (text: string) =>
  fireEvent.change(screen.getByLabelText('The catalogue'), {
    target: { files: [new File([text], 'autumn.json', { type: 'application/json' })] },
  });

it('tells what is new and what does not fit, and adds all of it with the value that was chosen', async () => {
  const { sent, onClose } = show();
  choose('{"settings":[]}');
  expect(await screen.findByText('1 new setting and 1 setting changed.')).toBeDefined();
  expect(screen.getByText('1 statement does not fit any more')).toBeDefined();
  fireEvent.click(screen.getByRole('button', { name: 'Choose another value' }));
  fireEvent.change(screen.getByLabelText('Value of Keep for'), { target: { value: '45' } });
  fireEvent.click(screen.getByRole('button', { name: 'Add to draft' }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  const staged = sent.find((s) => s.path === '/drafts/7/edits')?.body as { edits: { edits: unknown[] }[] };
  expect(staged.edits[0]?.edits).toEqual([
    { kind: 'add-setting', setting: { key: 'tides.show' } },
    { kind: 'put-statement', policy: 'p2', statement: { setting: 'files.keep', set: 45, lock: false } },
  ]);
});

it('says what is wrong with a file that is not JSON', async () => {
  show();
  choose('key,title');
  expect((await screen.findByRole('alert')).textContent).toContain('autumn.json is not JSON');
});

it('cannot be added while something is refused', async () => {
  show({ ...UPDATE, refusals: ['Captions cannot be removed: it has a release.'] });
  choose('{}');
  expect(await screen.findByText('Captions cannot be removed: it has a release.')).toBeDefined();
  expect(screen.getByRole('button', { name: 'Add to draft' }).hasAttribute('disabled')).toBe(true);
});
