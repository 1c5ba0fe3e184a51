import { useQueryClient, type Query } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../api/client';
import { isPublishedHere, isOwnPublish, isStillPublishing } from '../draft/ownPublishes';
import { formatInstant } from '../text/dates';

const KINDS = ['start', 'change', 'draft', 'time'] as const;

interface Heard {
  kind: (typeof KINDS)[number] | 'lost';
  data: string;
}

type Changed = Schemas['ChangeEvent'];

const QUIET_MS = 12_000;
const LOST = 'The server cannot be reached; what you see may be old. It is tried again and again';

/** Kinds of questions that hold whatever a change touches, as long as it leaves out the directory, or the policies. */
const ABOUT: Record<string, (change: Changed) => boolean> = {
  catalogue: (change) => change.catalogue,
  directory: (change) => change.directory,
  entry: (change) => change.directory || change.seats || change.policies.length > 0,
  plans: (change) => change.seats,
  plan: (change) => change.seats,
  claims: (change) => change.seats,
  moves: (change) => change.seats,
};

/** Whether what was asked may have another answer after a change. */
export function touches(change: Changed, query: Pick<Query, 'queryKey'>): boolean {
  const [kind] = query.queryKey;
  if (change.all || typeof kind !== 'string') return true;
  return ABOUT[kind]?.(change) ?? true;
}

/**
 * Listens to what others publish and what time brings, and asks again for what it can have touched. One tab of a browser holds the
 * stream and tells the others. Where the stream was lost, it says so, and catches up when it is there again.
 *
 * @returns a quiet notice of the last thing that happened, and how to dismiss it
 */
export function useEvents(zone: string): [string, () => void] {
  const queries = useQueryClient();
  const [notice, setNotice] = useState('');
  const [lost, setLost] = useState(false);
  // A zone that becomes known must not end the stream: what happened until the next one would be missed.
  const where = useRef(zone);
  useEffect(() => {
    where.current = zone;
  }, [zone]);
  useEffect(() => {
    const channel = new BroadcastChannel('lean-ladder-events');
    const gone = new AbortController();
    let timer = 0;
    let last: number | undefined;
    const say = (words: string) => {
      setNotice(words);
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setNotice(''), QUIET_MS);
    };
    const hear = async ({ kind, data }: Heard) => {
      if (kind === 'lost') return setLost(true);
      await isStillPublishing();
      if (gone.signal.aborted) return;
      switch (kind) {
        case 'start': {
          const { change } = JSON.parse(data) as Schemas['StartEvent'];
          // Whatever was missed, drafts and time too, shows when all is asked again: where the stream was lost, or came later
          // than what is shown.
          const shown = queries.getQueryData<Schemas['Session']>(['session'])?.change;
          if (last !== undefined || (shown !== undefined && shown !== change)) void queries.invalidateQueries();
          last = change;
          return setLost(false);
        }
        case 'draft': {
          const { id } = JSON.parse(data) as { id: number };
          if (!isPublishedHere(id)) void queries.invalidateQueries({ queryKey: ['draft', id] });
          void queries.invalidateQueries({ queryKey: ['drafts'] });
          return;
        }
        case 'change': {
          const change = JSON.parse(data) as Changed;
          last = change.number;
          if (isOwnPublish(change.number)) return;
          void queries.invalidateQueries({ predicate: (query) => touches(change, query) });
          return say(`${change.author} published change ${change.number}${change.note ? `: ${change.note}` : ''}`);
        }
        case 'time': {
          const { at } = JSON.parse(data) as { at: string };
          void queries.invalidateQueries();
          return say(
            `At ${formatInstant(at, where.current).split(', ')[1] ?? ''} something began or ended by itself; what you see is as of now`,
          );
        }
      }
    };
    channel.onmessage = (message) => void hear(message.data as Heard);
    void navigator.locks
      .request('lean-ladder-events', { signal: gone.signal }, () => {
        const stream = new EventSource('/api/v1/events');
        const pass = (heard: Heard) => {
          channel.postMessage(heard);
          void hear(heard);
        };
        for (const kind of KINDS)
          stream.addEventListener(kind, (event) => pass({ kind, data: (event as MessageEvent<string>).data }));
        // The browser connects again by itself.
        stream.addEventListener('error', () => pass({ kind: 'lost', data: '' }));
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
  }, [queries]);
  return [lost ? LOST : notice, () => (lost ? setLost(false) : setNotice(''))];
}
