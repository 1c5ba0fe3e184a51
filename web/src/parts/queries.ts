import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useAfterDraft, useDraft } from '../draft/draft';
import { draftOf, whoText, type Question } from '../question/question';
import { syncClock } from '../text/clock';
import { isZone } from '../text/dates';
import { unwrap, unwrapAs, api, type Distribution, type Schemas } from '../api/client';
import type { paths } from '../api/schema';

/** What a question asks beside whom and what; after a draft there is no instant. */
const where = (q: Question) => ({
  workspace: q.where?.id,
  at: draftOf(q.when) === undefined ? q.when : undefined,
  draft: draftOf(q.when),
});

/** Tells answers after a draft apart by the version of the draft. */
const versioned = (q: Question, after: After) => [where(q), draftOf(q.when) === undefined ? undefined : after.key];

/** What {@link useAfterDraft} gives. */
type After = ReturnType<typeof useAfterDraft>;

/** What is asked about with: the current draft where there is one, else the instant of the question. */
export function useCurrentQuery(q: Question) {
  const after = useAfterDraft();
  const at = after.query.draft === undefined && draftOf(q.when) === undefined ? q.when : undefined;
  return { query: { ...after.query, at }, key: [...after.key, at] };
}

export const useSession = () =>
  useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      const session = await unwrap(api.GET('/api/v1/session'));
      syncClock(session.now);
      if (session.organisation && !isZone(session.organisation.timeZone)) session.organisation.timeZone = 'UTC';
      return session;
    },
    refetchInterval: 30_000,
  });

/** The drafts that hold edits and are not the one that is worked on. */
export const useSavedDrafts = () => {
  const { draft } = useDraft();
  const drafts = useQuery({
    queryKey: ['drafts', draft?.id],
    queryFn: () => unwrap(api.GET('/api/v1/drafts')),
  });
  return (drafts.data?.drafts ?? []).filter((d) => d.id !== draft?.id && d.edits > 0);
};

/** What can be set; after the draft, where that changes it. */
export const useCatalogue = () => {
  const { draft } = useDraft();
  const changed = draft?.catalogue === true;
  return useQuery({
    queryKey: ['catalogue', ...(changed ? [draft?.id, draft?.version] : [])],
    queryFn: () => unwrap(api.GET('/api/v1/catalogue', { params: { query: changed ? { draft: draft?.id } : {} } })),
    staleTime: 300_000,
    placeholderData: (before) => before,
  });
};

export const useSearch = (q: string, kinds?: string, limit = 12) => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['search', q, kinds, limit, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/search', { params: { query: { q, kinds, limit, ...after.query } } })),
    enabled: q.trim().length > 0,
    placeholderData: (before) => before,
  });
};

export const useAccount = (q: Question) => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['account', q.who?.id, versioned(q, after)],
    queryFn: () =>
      unwrap(api.GET('/api/v1/accounts/{id}', { params: { path: { id: q.who?.id ?? '' }, query: where(q) } })),
    enabled: q.who !== undefined && q.who.kind === 'account',
  });
};

export const useAccountSettings = (q: Question) => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['settings', q.who?.id, versioned(q, after)],
    queryFn: () =>
      unwrapAs<Schemas['AccountSettings']>(
        api.GET('/api/v1/accounts/{id}/settings', { params: { path: { id: q.who?.id ?? '' }, query: where(q) } }),
      ),
    enabled: q.who !== undefined && q.who.kind === 'account',
  });
};

/** The name of the unit or group that a question is about; everyone has one too. */
export const useAudienceName = (q: Question): string | undefined => {
  const after = useAfterDraft();
  const kind = q.who?.kind;
  const found = useQuery({
    queryKey: ['entry', kind, q.who?.id, versioned(q, after)],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/directory/{list}/{id}', {
          params: { path: { list: `${kind}s`, id: q.who?.id ?? '' }, query: where(q) },
        }),
      ),
    enabled: kind === 'unit' || kind === 'group',
  });
  return kind === 'everyone' ? 'everyone' : kind === 'account' ? undefined : found.data?.name;
};

/** On which rungs a setting is decided for many. */
export const useDistribution = (q: Question) => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['crowd', q.who, q.what?.id, versioned(q, after)],
    queryFn: () =>
      unwrapAs<Distribution>(
        api.GET('/api/v1/distribution', {
          params: { query: { who: q.who ? whoText(q.who) : '', setting: q.what?.id ?? '', ...where(q) } },
        }),
      ),
    enabled: q.who !== undefined && q.who.kind !== 'account' && q.what !== undefined,
    placeholderData: (before) => before,
  });
};

export const useClimb = (q: Question) => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['climb', q.who?.id, q.what?.id, versioned(q, after)],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/climb', {
          params: { query: { account: q.who?.id ?? '', setting: q.what?.id ?? '', ...where(q) } },
        }),
      ),
    enabled: q.who?.kind === 'account' && q.what !== undefined,
    placeholderData: (before, query) => (query?.queryKey[1] === q.who?.id ? before : undefined),
  });
};

export const usePolicies = () => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['policies', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/policies', { params: { query: after.query } })),
    placeholderData: (before) => before,
  });
};

export const useExceptions = () => {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['exceptions', after.key],
    queryFn: () => unwrapAs<Schemas['Exceptions']>(api.GET('/api/v1/exceptions', { params: { query: after.query } })),
    placeholderData: (before) => before,
  });
};

const usePolicyOf = (id: string | undefined, key: unknown[], query: { at?: string; draft?: number }) =>
  useQuery({
    queryKey: ['policy', id, ...key],
    queryFn: () => unwrap(api.GET('/api/v1/policies/{id}', { params: { path: { id: id ?? '' }, query } })),
    enabled: id !== undefined,
    placeholderData: (before, asked) => (asked?.queryKey[1] === id ? before : undefined),
  });

/** The policy as it is edited: now, or after the current draft. */
export const usePolicy = (id: string | undefined) => {
  const after = useAfterDraft();
  return usePolicyOf(id, [after.key], after.query);
};

/** The policy as it stands where the question is asked: at its instant, or after its draft. */
export const useQueriedPolicy = (id: string | undefined, q: Question) => {
  const after = useAfterDraft();
  const { at, draft } = where(q);
  return usePolicyOf(id, ['asked', ...versioned(q, after)], { at, draft });
};

/** Which changes of the logbook are asked for, as its address and the server write it. */
export type LogbookFilter = Omit<
  NonNullable<paths['/api/v1/changes']['get']['parameters']['query']>,
  'before' | 'limit' | 'format'
>;

/** A filter as the query of an address. */
export const filterText = (filter: LogbookFilter & { format?: 'csv' }): string =>
  `?${new URLSearchParams(Object.entries(filter).filter(([, v]) => v !== undefined)).toString()}`;

/** The published changes that a filter lets through, newest first. */
export const useLogbook = (filter: LogbookFilter = {}, limit = 50) =>
  useInfiniteQuery({
    queryKey: ['logbook', filter, limit],
    queryFn: ({ pageParam }) =>
      unwrapAs<Schemas['Logbook']>(
        api.GET('/api/v1/changes', { params: { query: { ...filter, before: pageParam, limit } } }),
      ),
    placeholderData: (before) => before,
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
  });

export const useChange = (number: string | undefined) =>
  useQuery({
    queryKey: ['change', number],
    queryFn: () => unwrap(api.GET('/api/v1/changes/{number}', { params: { path: { number: Number(number) } } })),
    enabled: number !== undefined,
  });

/** The licence plans where the question is asked. */
export const usePlans = (q: Question) => {
  const asked = useCurrentQuery(q);
  return useQuery({
    queryKey: ['plans', asked.key],
    queryFn: () => unwrap(api.GET('/api/v1/plans', { params: { query: asked.query } })),
    placeholderData: (before) => before,
  });
};
