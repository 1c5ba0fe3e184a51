import { render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { isZone } from '../text/dates';
import { ViewFailure } from './ViewFailure';

function Broken(): never {
  throw new RangeError('no such zone');
}

it('says what happened where a view fails, and tries again at another address', () => {
  const quiet = vi.spyOn(console, 'error').mockImplementation(() => {});
  const view = render(
    <ViewFailure address="/policies">
      <Broken />
    </ViewFailure>,
  );
  expect(screen.getByRole('alert').textContent).toContain('This view could not be drawn (no such zone)');
  view.rerender(
    <ViewFailure address="/ladder">
      <p>The ladder</p>
    </ViewFailure>,
  );
  expect(screen.getByText('The ladder')).toBeTruthy();
  quiet.mockRestore();
});

it('knows which time zones it knows', () => {
  expect(isZone('Europe/Lisbon')).toBe(true);
  expect(isZone('UTC')).toBe(true);
  expect(isZone('Z')).toBe(false);
});
