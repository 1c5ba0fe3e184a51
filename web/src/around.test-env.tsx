import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import type { Draft, RippleCounts } from './api/client';
import { DraftProvider } from './draft/draft';

/** What every view stands in. */
export function Around({ children, at = '/' }: { children: ReactNode; at?: string }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: false } } }));
  return (
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>
        <DraftProvider>{children}</DraftProvider>
      </MemoryRouter>
    </QueryClientProvider>
  );
}

/** A ripple of nothing. */
export const STILL: RippleCounts = {
  accounts: 0,
  gain: 0,
  lose: 0,
  both: 0,
  other: 0,
  decidedElsewhere: 0,
  joining: 0,
  leaving: 0,
  blocked: 0,
  waiting: [],
  inWorkspaces: [],
};

/** A draft as the server tells it. */
export const draftOf = (version: number, words: string[] = [], more: Partial<Draft> = {}): Draft => ({
  id: 7,
  name: '',
  author: 'Ivo Tarn',
  version,
  edits: words.length,
  note: '',
  due: null,
  stuck: null,
  touched: '2026-11-23T12:00:00Z',
  change: 3,
  troubled: 0,
  stands: true,
  undoable: words.length > 0,
  redoable: false,
  policies: [],
  catalogue: false,
  ripple: STILL,
  items: words.map((w, index) => ({
    index,
    step: index,
    words: w,
    conflicts: [],
    refusals: [],
    added: null,
    cancelled: false,
  })),
  ...more,
});
