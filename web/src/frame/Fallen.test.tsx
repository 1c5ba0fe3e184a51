import { render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { isZone } from '../text/dates';
import { Fallen } from './Fallen';

function Broken(): never {
  throw new RangeError('no such zone');
}

it('says what happened where a view fails, and tries again at another address', () => {
  const quiet = vi.spyOn(console, 'error').mockImplementation(() => {});
  const view = render(
    <Fallen address="/policies">
      <Broken />
    </Fallen>,
  );
  expect(screen.getByRole('alert').textContent).toContain('This view could not be drawn (no such zone)');
  view.rerender(
    <Fallen address="/ladder">
      <p>The ladder</p>
    </Fallen>,
  );
  expect(screen.getByText('The ladder')).toBeTruthy();
  quiet.mockRestore();
});

it('knows which time zones it knows', () => {
  expect(isZone('Europe/Lisbon')).toBe(true);
  expect(isZone('UTC')).toBe(true);
  expect(isZone('Z')).toBe(false);
});
