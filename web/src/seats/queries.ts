import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { unwrap, unwrapAs, api, type Schemas } from '../api/client';
import { useCurrentQuery } from '../parts/queries';
import { whoText, type Question } from '../question/question';

export const usePlan = (id: string, q: Question) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['plan', id, asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/plans/{plan}', { params: { path: { plan: id }, query: asked.query } })),
    placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
  });
};

export const useClaims = (plan: string, which: 'held' | 'waiting', text: string, q: Question) => {
  const asked = useCurrentQuery(q);
  const query = { ...asked.query, which, q: text || undefined };
  const pages = useInfiniteQuery({
    queryKey: ['claims', plan, which, text, asked.key],
    queryFn: ({ pageParam }) =>
      unwrapAs<Schemas['Claims']>(
        api.GET('/api/v1/plans/{plan}/claims', { params: { path: { plan }, query: { ...query, after: pageParam } } }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    // Who held a seat never stands as one who waits while that is looked up.
    placeholderData: (before, query) =>
      query?.queryKey[1] === plan && query.queryKey[2] === which ? before : undefined,
  });
  const words = new URLSearchParams({ which, format: 'csv' });
  if (asked.query.draft !== undefined) words.set('draft', String(asked.query.draft));
  if (asked.query.at !== undefined) words.set('at', asked.query.at);
  return { pages, file: `/api/v1/plans/${encodeURIComponent(plan)}/claims?${words}` };
};

/** What became of the seats of a plan; a draft has moved none yet. */
export const useLedgerMoves = (plan: string) =>
  useQuery({
    queryKey: ['moves', plan],
    queryFn: () => unwrap(api.GET('/api/v1/plans/{plan}/moves', { params: { path: { plan }, query: { limit: 100 } } })),
  });

/** What seats carry, component by component. */
export const useComponents = (q: Question) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['components', asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/components', { params: { query: asked.query } })),
    placeholderData: (before) => before,
  });
};

/** What somebody is to have: a whole family of settings, or all that a component of plans carries. */
export interface Whole {
  kind: 'family' | 'component';
  id: string;
}

/** What it would take for those of the question to have its setting, or the whole where one is named. */
export const useLicenceGap = (q: Question, whole?: Whole) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['needed', q.who, whole ?? q.what, asked.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/licence-gap', {
          params: {
            query: {
              who: q.who ? whoText(q.who) : '',
              ...(whole ? { [whole.kind]: whole.id } : { setting: q.what?.id ?? '' }),
              ...asked.query,
            },
          },
        }),
      ),
    enabled: q.who !== undefined && (whole !== undefined || q.what !== undefined),
    placeholderData: (before) => before,
  });
};
