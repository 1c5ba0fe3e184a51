import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Cell } from './Cell';

it('shows one value with the rung it comes from, and its standing by a shape', () => {
  render(<Cell cell={{ shares: [{ value: 'Off', accounts: 7 }], rung: 'unit', standing: 'locked' }} />);
  expect(screen.getByText('Off')).toBeTruthy();
  expect(screen.getByRole('img', { name: 'from the unit rung' })).toBeTruthy();
  expect(screen.getByRole('img', { name: 'locked' })).toBeTruthy();
});

it('shows the largest of several values with its count of all', () => {
  const { container } = render(
    <Cell
      cell={{
        shares: [
          { value: 'On', accounts: 514 },
          { value: 'Off', accounts: 102 },
        ],
      }}
    />,
  );
  expect(container.textContent).toContain('On');
  expect(container.textContent).toContain('514');
  expect(container.textContent).toContain('/616');
});

it('shows a dash where nobody is', () => {
  const { container } = render(<Cell cell={{ shares: [] }} />);
  expect(container.textContent).toBe('—');
});
