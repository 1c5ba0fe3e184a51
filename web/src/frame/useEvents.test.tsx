import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { publishedHere, useEvents } from './useEvents';

type Listener = (event: { data: string }) => void;

/** A stream that tells what the test says. */
class Stream {
  static open: Stream[] = [];
  readonly listeners = new Map<string, Listener>();
  closed = false;

  constructor(readonly url: string) {
    Stream.open.push(this);
  }

  addEventListener(kind: string, listener: Listener) {
    this.listeners.set(kind, listener);
  }

  close() {
    this.closed = true;
  }

  tell(kind: string, data: object) {
    act(() => this.listeners.get(kind)?.({ data: JSON.stringify(data) }));
  }
}

class Channel {
  static said: unknown[] = [];
  onmessage: ((message: { data: unknown }) => void) | undefined;
  postMessage(told: unknown) {
    Channel.said.push(told);
  }
  close() {}
}

const CHANGE = { number: 9, at: '2026-11-23T14:20:00Z', author: 'Vera Quill', proven: false, note: 'Quiet nights' };
let client: QueryClient;

beforeEach(() => {
  vi.useFakeTimers();
  Stream.open = [];
  Channel.said = [];
  client = new QueryClient();
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('BroadcastChannel', Channel);
  vi.stubGlobal('navigator', {
    locks: { request: (_name: string, _options: unknown, hold: () => Promise<void>) => hold() },
  });
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

function heard() {
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  const hook = renderHook(() => useEvents('Europe/Lisbon'), { wrapper });
  const asked = vi.spyOn(client, 'invalidateQueries');
  return { hook, stream: Stream.open[0] as Stream, asked };
}

it('tells quietly what somebody else published, asks again for all that is shown, and falls silent by itself', () => {
  const { hook, stream, asked } = heard();
  stream.tell('change', CHANGE);
  expect(hook.result.current[0]).toBe('Vera Quill published change 9: Quiet nights');
  expect(asked).toHaveBeenCalledWith();
  expect(Channel.said).toHaveLength(1);
  act(() => void vi.advanceTimersByTime(20_000));
  expect(hook.result.current[0]).toBe('');
});

it('does not tell what this tab published itself, but shows it', () => {
  const { hook, stream, asked } = heard();
  publishedHere.add(9);
  stream.tell('change', CHANGE);
  expect(hook.result.current[0]).toBe('');
  expect(asked).toHaveBeenCalledWith();
});

it('tells what time brings by the clock of the organisation', () => {
  const { hook, stream } = heard();
  stream.tell('time', { at: '2026-07-01T06:00:00Z' });
  expect(hook.result.current[0]).toBe('At 07:00 something began or ended by itself; what you see is as of now');
});

it('asks only for drafts again when a draft was edited, and says nothing', () => {
  const { hook, stream, asked } = heard();
  stream.tell('draft', { id: 7 });
  expect(hook.result.current[0]).toBe('');
  expect(asked.mock.calls.map(([filter]) => filter?.queryKey)).toEqual([['draft'], ['drafts']]);
});

it('lets go of the stream when the page is left', () => {
  const { hook, stream } = heard();
  hook.unmount();
  expect(stream.closed).toBe(true);
});
