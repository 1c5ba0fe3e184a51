import { fireEvent, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { ImportResult } from '../api/client';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { ImportFile } from './ImportFile';

const report = (name: string | null): ImportResult => ({
  headings: ['E-Mail', 'Who'],
  columns: [
    { column: 'address', heading: 'E-Mail' },
    { column: 'name', heading: name },
  ],
  lines: [{ line: 2, verdict: name ? 'new' : 'refused', told: name ? 'Tobin Vey' : 'A new account needs a name.' }],
  counts: { new: name ? 1 : 0, altered: 0, same: 0, refused: name ? 0 : 1 },
  edit: name ? { kind: 'batch', source: 'crew.csv', edits: [] } : null,
});

it('shows which column holds what, and reads the file again when another is chosen', async () => {
  serve({});
  const read = vi.fn((_: string, __: File, columns?: string) => Promise.resolve(report(columns ? 'Who' : null)));
  render(
    <Around>
      <ImportFile
        kinds={[{ what: 'people', name: 'accounts', columns: 'address, name' }]}
        initial="people"
        read={read}
        onClose={() => undefined}
      />
    </Around>,
  );
  fireEvent.change(screen.getByLabelText('The file'), { target: { files: [new File(['E-Mail,Who'], 'crew.csv')] } });
  expect((await screen.findByRole('status')).textContent).toContain('1 refused');
  fireEvent.click(screen.getByRole('combobox', { name: 'Column for name' }));
  fireEvent.click(screen.getByRole('option', { name: 'Who' }));
  expect(await screen.findByRole('button', { name: 'Add 1 line to draft' })).toBeDefined();
  expect(JSON.parse(read.mock.calls[1]?.[2] ?? '')).toEqual({ address: 'E-Mail', name: 'Who' });
});
