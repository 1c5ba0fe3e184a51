import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import type { Question } from '../frame/question';
import { answer, api } from './client';

const where = (q: Question) => ({ workspace: q.where?.id, at: q.when });

export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => answer(api.GET('/api/v1/session')), refetchInterval: 30_000 });

export const useCatalogue = () =>
  useQuery({ queryKey: ['catalogue'], queryFn: () => answer(api.GET('/api/v1/catalogue')), staleTime: 300_000 });

export const useSearch = (q: string, kinds?: string) =>
  useQuery({
    queryKey: ['search', q, kinds],
    queryFn: () => answer(api.GET('/api/v1/search', { params: { query: { q, kinds, limit: 12 } } })),
    enabled: q.trim().length > 0,
    placeholderData: (before) => before,
  });

export const useAccount = (q: Question) =>
  useQuery({
    queryKey: ['account', q.who?.id, where(q)],
    queryFn: () =>
      answer(api.GET('/api/v1/accounts/{id}', { params: { path: { id: q.who?.id ?? '' }, query: where(q) } })),
    enabled: q.who !== undefined,
  });

export const useAccountSettings = (q: Question) =>
  useQuery({
    queryKey: ['settings', q.who?.id, where(q)],
    queryFn: () =>
      answer(api.GET('/api/v1/accounts/{id}/settings', { params: { path: { id: q.who?.id ?? '' }, query: where(q) } })),
    enabled: q.who !== undefined,
  });

export const useClimb = (q: Question) =>
  useQuery({
    queryKey: ['climb', q.who?.id, q.what?.id, where(q)],
    queryFn: () =>
      answer(
        api.GET('/api/v1/climb', {
          params: { query: { account: q.who?.id ?? '', setting: q.what?.id ?? '', ...where(q) } },
        }),
      ),
    enabled: q.who !== undefined && q.what !== undefined,
    placeholderData: (before, query) => (query?.queryKey[1] === q.who?.id ? before : undefined),
  });

export const usePolicies = () =>
  useQuery({ queryKey: ['policies'], queryFn: () => answer(api.GET('/api/v1/policies')) });

export const usePolicy = (id: string | undefined) =>
  useQuery({
    queryKey: ['policy', id],
    queryFn: () => answer(api.GET('/api/v1/policies/{id}', { params: { path: { id: id ?? '' } } })),
    enabled: id !== undefined,
  });

export const useLogbook = () =>
  useInfiniteQuery({
    queryKey: ['logbook'],
    queryFn: ({ pageParam }) =>
      answer(api.GET('/api/v1/changes', { params: { query: { before: pageParam, limit: 50 } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
  });

export const useChange = (number: string | undefined) =>
  useQuery({
    queryKey: ['change', number],
    queryFn: () => answer(api.GET('/api/v1/changes/{number}', { params: { path: { number: Number(number) } } })),
    enabled: number !== undefined,
  });
