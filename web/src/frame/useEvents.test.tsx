import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { markPublishing } from '../draft/ownPublishes';
import { touches, useEvents } from './useEvents';

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

  async tell(kind: string, data: object) {
    await act(async () => {
      this.listeners.get(kind)?.({ data: JSON.stringify(data) });
      await Promise.resolve();
      await Promise.resolve();
    });
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

const CHANGE = {
  number: 9009,
  at: '2026-11-23T14:20:00Z',
  author: 'Vera Quill',
  note: 'Quiet nights',
  all: false,
  settings: ['chat.private'],
  policies: ['house-rules'],
  directory: false,
  seats: false,
  catalogue: false,
};
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
  const hook = renderHook((zone: string) => useEvents(zone), { wrapper, initialProps: 'UTC' });
  hook.rerender('Europe/Lisbon');
  const asked = vi.spyOn(client, 'invalidateQueries');
  return { hook, stream: Stream.open[0] as Stream, asked };
}

it('tells quietly what somebody else published, asks again for what it touched, and falls silent by itself', async () => {
  const { hook, stream, asked } = heard();
  await stream.tell('change', CHANGE);
  expect(hook.result.current[0]).toBe('Vera Quill published change 9009: Quiet nights');
  expect(asked).toHaveBeenCalledTimes(1);
  expect(Channel.said).toHaveLength(1);
  act(() => void vi.advanceTimersByTime(20_000));
  expect(hook.result.current[0]).toBe('');
});

it('asks again for lists of the directory only when the directory was touched', () => {
  expect(touches(CHANGE, { queryKey: ['directory', 'units'] })).toBe(false);
  expect(touches({ ...CHANGE, directory: true }, { queryKey: ['directory', 'units'] })).toBe(true);
  expect(touches({ ...CHANGE, all: true }, { queryKey: ['catalogue'] })).toBe(true);
  expect(touches(CHANGE, { queryKey: ['catalogue'] })).toBe(false);
  expect(touches(CHANGE, { queryKey: ['climb', 'a'] })).toBe(true);
});

it('asks again where the stream begins later than what is shown, and keeps it when the zone becomes known', async () => {
  client.setQueryData(['session'], { change: 2 });
  const { stream, asked } = heard();
  await stream.tell('start', { change: 3 });
  expect(asked).toHaveBeenCalledTimes(1);
  expect(Stream.open).toHaveLength(1);
});

it('asks nothing again where the stream begins with what is shown', async () => {
  client.setQueryData(['session'], { change: 3 });
  const { stream, asked } = heard();
  await stream.tell('start', { change: 3 });
  expect(asked).not.toHaveBeenCalled();
});

it('passes over what this tab publishes itself, though the stream tells of it before the answer is here', async () => {
  const { hook, stream, asked } = heard();
  let arrive: (number: number) => void = () => undefined;
  const answered = markPublishing(
    8,
    () => new Promise<number>((resolve) => (arrive = resolve)),
    (number) => number,
  );
  await stream.tell('change', { ...CHANGE, number: 10 });
  await stream.tell('draft', { id: 8 });
  expect(asked).not.toHaveBeenCalled();
  await act(async () => {
    arrive(10);
    await answered;
  });
  await vi.waitFor(() => expect(asked).toHaveBeenCalled());
  expect(asked.mock.calls.map(([filter]) => filter?.queryKey)).toEqual([['drafts']]);
  expect(hook.result.current[0]).toBe('');
});

it('tells what time brings by the clock of the organisation', async () => {
  const { hook, stream } = heard();
  await stream.tell('time', { at: '2026-07-01T06:00:00Z' });
  expect(hook.result.current[0]).toBe('At 07:00 something began or ended by itself; what you see is as of now');
});

it('asks only for drafts again when a draft was edited, and says nothing', async () => {
  const { hook, stream, asked } = heard();
  await stream.tell('draft', { id: 7007 });
  expect(hook.result.current[0]).toBe('');
  expect(asked.mock.calls.map(([filter]) => filter?.queryKey)).toEqual([['draft', 7007], ['drafts']]);
});

it('says while the stream is lost that what is shown may be old, and catches up when it is there again', async () => {
  const { hook, stream, asked } = heard();
  await stream.tell('start', { change: 8, now: '2026-07-01T06:00:00Z' });
  expect(asked).not.toHaveBeenCalled();
  await stream.tell('error', {});
  expect(hook.result.current[0]).toContain('what you see may be old');
  await stream.tell('start', { change: 11, now: '2026-07-01T06:01:00Z' });
  expect(hook.result.current[0]).toBe('');
  expect(asked).toHaveBeenCalledWith();
});

it('lets go of the stream when the page is left', () => {
  const { hook, stream } = heard();
  hook.unmount();
  expect(stream.closed).toBe(true);
});
