import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, expect, it, vi } from 'vitest';
import { unwrap } from '../api/client';
import { useHealth } from './useHealth';

const FULL =
  'The disk of the database is full: everything can be looked at, and nothing is stored until there is room.';

function health(...parts: { name: string; well: boolean; words: string | null }[]) {
  return { json: () => Promise.resolve({ parts }) } as Response;
}

function rendered() {
  const client = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return renderHook(() => useHealth(), { wrapper });
}

afterEach(() => vi.unstubAllGlobals());

it('says nothing while all is well, also where no estate is loaded yet', async () => {
  const fetched = vi.fn(() =>
    Promise.resolve(
      health(
        { name: 'database', well: true, words: null },
        { name: 'estate', well: false, words: 'No estate is loaded yet.' },
      ),
    ),
  );
  vi.stubGlobal('fetch', fetched);
  const hook = rendered();
  await waitFor(() => expect(fetched).toHaveBeenCalled());
  expect(hook.result.current).toBe('');
});

it('is not confused by what a proxy answers in its place', async () => {
  const fetched = vi.fn(() => Promise.resolve({ json: () => Promise.resolve({ title: 'Bad gateway' }) } as Response));
  vi.stubGlobal('fetch', fetched);
  const hook = rendered();
  await waitFor(() => expect(fetched).toHaveBeenCalled());
  expect(hook.result.current).toBe('');
});

it('asks again as soon as something could not be stored, and says why', async () => {
  let well = true;
  vi.stubGlobal(
    'fetch',
    vi.fn(() => Promise.resolve(health({ name: 'storage', well, words: well ? null : FULL }))),
  );
  const hook = rendered();
  await waitFor(() => expect(fetch).toHaveBeenCalledTimes(1));
  well = false;
  await expect(unwrap(Promise.resolve({ error: { status: 507, detail: 'The disk is full' } }))).rejects.toThrow(
    'The disk is full',
  );
  await waitFor(() => expect(hook.result.current).toBe(FULL));
});
