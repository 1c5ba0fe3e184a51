import { render } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { MatrixCellData } from '../api/client';
import { cellProps } from './Cell';

const drawn = (cell: MatrixCellData) => {
  const { children, ...props } = cellProps(cell, false);
  return render(<span {...props}>{children}</span>).container.firstChild as HTMLElement;
};

it('shows one value, the rung it comes from and its standing, and says all three', () => {
  const cell = drawn({ shares: [{ value: 'Off', inForce: false, accounts: 7 }], rung: 'unit', standing: 'locked' });
  expect(cell.textContent).toBe('Off');
  expect(cell.className).toContain('rung-unit');
  expect(cell.className).toContain('standing-locked');
  expect(cell.getAttribute('aria-label')).toBe('Off, from the unit rung, locked');
});

it('shows the largest of several values with its count of all, and the shares as a bar', () => {
  const cell = drawn({
    shares: [
      { value: 'On', inForce: true, accounts: 514 },
      { value: 'Off', inForce: false, accounts: 102 },
    ],
  });
  expect(cell.textContent).toBe('On514/616');
  expect(cell.getAttribute('aria-label')).toBe('On 514/616');
  expect(cell.style.backgroundImage).toContain('83.4');
});

it('shows a dash where nobody is', () => {
  expect(drawn({ shares: [] }).textContent).toBe('—');
});

it('cuts a value off only where it may not fit', () => {
  const long = (value: string) =>
    drawn({ shares: [{ value, inForce: value, accounts: 1 }], rung: 'unit' }).className.includes('truncate');
  expect(long('Members')).toBe(false);
  expect(long('Everybody who has an account')).toBe(true);
  expect(long('仕事')).toBe(true);
});
