import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { PictureControl } from './PictureControl';

const STORED = { sha256: 'ab'.repeat(32), media: 'image/png', bytes: 4 };

const show = (value: unknown) => {
  const onChange = vi.fn();
  render(
    <Around at="/policies/p1">
      <PictureControl title="Picture on the sign-in page" value={value} onChange={onChange} />
    </Around>,
  );
  return onChange;
};

it('stores a file that is dropped and names it as the value', async () => {
  serve({ 'POST /pictures': () => STORED });
  const onChange = show(null);
  const file = new File(['flag'], 'flag.png', { type: 'image/png' });
  fireEvent.drop(screen.getByRole('group', { name: 'Value of Picture on the sign-in page' }), {
    dataTransfer: { files: [file] },
  });
  await waitFor(() => expect(onChange).toHaveBeenCalledWith({ sha256: STORED.sha256, media: 'image/png', alt: '' }));
});

it('keeps the description, describes the picture to those who cannot see it, and removes it', () => {
  const onChange = show({ sha256: STORED.sha256, media: 'image/png', alt: 'House flag' });
  expect(screen.getByRole('img', { name: 'House flag' })).toBeInTheDocument();
  fireEvent.change(screen.getByDisplayValue('House flag'), { target: { value: 'The house flag' } });
  expect(onChange).toHaveBeenCalledWith({ sha256: STORED.sha256, media: 'image/png', alt: 'The house flag' });
  fireEvent.click(screen.getByRole('button', { name: 'Remove' }));
  expect(onChange).toHaveBeenLastCalledWith(null);
});
