import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { useTheme } from './theme';

let dark = false;
const listeners = new Set<() => void>();

/** The system asks for the other theme from now on. */
const turn = (isDark: boolean) =>
  act(() => {
    dark = isDark;
    listeners.forEach((told) => told());
  });

function Switch() {
  const [theme, choose] = useTheme();
  return <button onClick={() => choose('light')}>{theme}</button>;
}

beforeEach(() => {
  dark = false;
  localStorage.clear();
  vi.stubGlobal('matchMedia', () => ({
    get matches() {
      return dark;
    },
    addEventListener: (_: string, told: () => void) => listeners.add(told),
    removeEventListener: (_: string, told: () => void) => listeners.delete(told),
  }));
});

afterEach(() => {
  vi.unstubAllGlobals();
  delete document.documentElement.dataset['theme'];
  localStorage.clear();
});

it('follows the system, also when it changes its mind, and marks nothing as chosen', () => {
  render(<Switch />);
  expect(screen.getByRole('button', { name: 'light' })).toBeVisible();
  turn(true);
  expect(screen.getByRole('button', { name: 'dark' })).toBeVisible();
  expect(document.documentElement.dataset['theme']).toBeUndefined();
});

it('keeps what was chosen, whatever the system asks for', async () => {
  const first = render(<Switch />);
  turn(true);
  await userEvent.click(screen.getByRole('button', { name: 'dark' }));
  expect(document.documentElement.dataset['theme']).toBe('light');
  first.unmount();
  expect(listeners.size).toBe(0);
  render(<Switch />);
  turn(true);
  expect(screen.getByRole('button', { name: 'light' })).toBeVisible();
});
