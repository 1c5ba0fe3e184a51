import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Receipt } from '../api/client';
import { moment } from '../text/dates';

interface Told {
  kind: 'change' | 'draft' | 'time';
  data: string;
}

/** Numbers of changes that this tab published itself and need not be told of. */
export const publishedHere = new Set<number>();

const QUIET_MS = 12_000;

/**
 * Listens to what others publish and what time brings, and asks again for what is shown. One tab of a browser holds the stream
 * and tells the others.
 *
 * @returns a quiet notice of the last thing that happened, and how to dismiss it
 */
export function useEvents(zone: string): [string, () => void] {
  const queries = useQueryClient();
  const [notice, setNotice] = useState('');
  useEffect(() => {
    const channel = new BroadcastChannel('lean-ladder-events');
    const gone = new AbortController();
    let timer = 0;
    const hear = ({ kind, data }: Told) => {
      if (kind === 'draft') {
        void queries.invalidateQueries({ queryKey: ['draft'] });
        void queries.invalidateQueries({ queryKey: ['drafts'] });
        return;
      }
      void queries.invalidateQueries();
      if (kind === 'change') {
        const change = JSON.parse(data) as Receipt;
        if (publishedHere.delete(change.number)) return;
        setNotice(`${change.author} published change ${change.number}${change.note ? `: ${change.note}` : ''}`);
      } else {
        const { at } = JSON.parse(data) as { at: string };
        setNotice(
          `At ${moment(at, zone).split(', ')[1] ?? ''} something began or ended by itself; what you see is as of now`,
        );
      }
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setNotice(''), QUIET_MS);
    };
    channel.onmessage = (message) => hear(message.data as Told);
    void navigator.locks
      .request('lean-ladder-events', { signal: gone.signal }, () => {
        const stream = new EventSource('/api/v1/events');
        for (const kind of ['change', 'draft', 'time'] as const)
          stream.addEventListener(kind, (event) => {
            const told: Told = { kind, data: (event as MessageEvent<string>).data };
            hear(told);
            channel.postMessage(told);
          });
        return new Promise<void>((resolve) =>
          gone.signal.addEventListener('abort', () => {
            stream.close();
            resolve();
          }),
        );
      })
      .catch(() => undefined);
    return () => {
      gone.abort();
      channel.close();
      window.clearTimeout(timer);
    };
  }, [queries, zone]);
  return [notice, () => setNotice('')];
}
