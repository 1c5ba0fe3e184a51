import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { unwrap, unwrapAs, api, type Schemas } from '../api/client';
import { useCurrentQuery } from '../parts/queries';
import { whoText, type Question } from '../question/question';

export type Previews = Schemas['Previews'];
export type ReleaseLine = Schemas['ReleaseLine'];
export type RingLine = Schemas['RingLine'];

/** Rings and releases of a track; of the main one where none is named. */
export const usePreviews = (q: Question, track?: string) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['previews', track, asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/previews', { params: { query: { ...asked.query, track } } })),
    placeholderData: (before) => before,
  });
};

/** What comes on a track, or on all of them. */
export const useArrivals = (q: Question, track?: string) => {
  const asked = useCurrentQuery(q);
  const who = q.who && q.who.kind !== 'everyone' ? whoText(q.who) : undefined;
  return useQuery({
    queryKey: ['arrivals', who, track, asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/arrivals', { params: { query: { ...asked.query, who, track } } })),
    placeholderData: (before) => before,
  });
};

export const useRelease = (setting: string, q: Question) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['release', setting, asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/releases/{setting}', { params: { path: { setting }, query: asked.query } })),
    placeholderData: (before, query) => (query?.queryKey[1] === setting ? before : undefined),
  });
};

export const useRoster = (ring: string, which: 'may' | 'did', kind: 'people' | 'rooms' | undefined, q: Question) => {
  const asked = useCurrentQuery(q);
  const pages = useInfiniteQuery({
    queryKey: ['roster', ring, which, kind, asked.key],
    queryFn: ({ pageParam }) =>
      unwrapAs<Schemas['Roster']>(
        api.GET('/api/v1/rings/{id}/accounts', {
          params: { path: { id: ring }, query: { ...asked.query, which, kind, after: pageParam } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: (before, query) =>
      query?.queryKey[1] === ring && query.queryKey[2] === which && query.queryKey[3] === kind ? before : undefined,
  });
  const words = new URLSearchParams({ which, format: 'csv' });
  if (asked.query.draft !== undefined) words.set('draft', String(asked.query.draft));
  if (asked.query.at !== undefined) words.set('at', asked.query.at);
  return { pages, file: `/api/v1/rings/${encodeURIComponent(ring)}/accounts?${words.toString()}` };
};
