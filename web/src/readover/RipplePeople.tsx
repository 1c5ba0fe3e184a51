import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answerAs, api, type Draft, type Schemas } from '../api/client';
import { VirtualRows } from '../parts/VirtualRows';
import { account, useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';
import type { Part } from './part';

/** Somebody in a ripple; what moves is told where no one setting is asked for. */
type Someone = Schemas['PeopleList']['people'][number] &
  Partial<Pick<Schemas['RippleView']['people'][number], 'changes'>>;

/** The people of a part of the ripple, beside it. */
export function RipplePeople({ draft, part, onClose }: { draft: Draft; part: Part; onClose: () => void }) {
  const { title, words, query } = part;
  const [question] = useQuestion();
  const pages = useInfiniteQuery({
    queryKey: ['ripple people', draft.id, draft.version, draft.change, part],
    queryFn: ({ pageParam }) =>
      answerAs<Schemas['RippleView'] | Schemas['PeopleList']>(
        api.GET('/api/v1/drafts/{id}/ripple', {
          params: { path: { id: draft.id }, query: { ...query, after: pageParam, limit: 1000 } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
  });
  const people = pages.data?.pages.flatMap((p): Someone[] => p.people) ?? [];
  const total = pages.data?.pages[0]?.accounts ?? 0;
  const csv = new URLSearchParams({ ...query, format: 'csv' });
  if (!query.setting && !query.part && !query.unit) csv.set('part', 'all');
  return (
    <aside
      aria-label="By name"
      className="border-line bg-sheet flex w-[360px] shrink-0 flex-col border-l px-4 pt-4 pb-3"
    >
      <div className="flex items-start gap-2">
        <h2 className="font-display min-w-0 flex-1 text-[16px] font-semibold">
          {title}
          {words && <span className="text-ink2 block text-[13px] font-normal">{words}</span>}
        </h2>
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
      <p className="text-ink2 mt-1 mb-2 flex gap-3 text-[13px]">
        {pages.isPending ? 'Looking…' : count(total, 'account')}
        <a className="quiet ml-auto" href={`/api/v1/drafts/${draft.id}/ripple?${csv.toString()}`}>
          As CSV
        </a>
      </p>
      <VirtualRows
        label="Accounts"
        items={people}
        maxHeight="calc(100dvh - 300px)"
        row={(person) => {
          const told = person.changes?.map((c) => `${c.title}: ${c.from} → ${c.to}`).join('; ');
          return (
            <>
              <Link
                className="w-36 shrink-0 truncate font-semibold hover:underline"
                to={`/ladder${writeQuestion({
                  ...question,
                  who: account(person.account),
                  ...(query.setting ? { what: { id: query.setting } } : {}),
                  when: `draft:${draft.id}`,
                })}`}
              >
                {person.displayName}
              </Link>
              <span className="text-ink2 truncate text-[13px]" title={told ?? person.unit}>
                {told ?? person.unit}
              </span>
            </>
          );
        }}
      />
      {pages.hasNextPage && (
        <button className="button mt-2 self-start" onClick={() => void pages.fetchNextPage()}>
          More
        </button>
      )}
    </aside>
  );
}
