import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { count } from '../text/words';
import { ViewAs } from './SuitePage';
import { ErrorNotice } from './ErrorNotice';
import { VirtualRows } from './VirtualRows';

/** Somebody in a list, and what the list says of them beside where they are. */
export type Somebody = Schemas['PeopleList']['people'][number] & { told?: string };

/** A page of people, and how many there are in all. */
interface Page {
  accounts: number;
  people: Somebody[];
  next: string | null;
}

/** People beside what they are the answer to: how many, who, page by page, and all of them as a file. */
export function PeopleAside(props: {
  label: string;
  title: string;
  words?: string;
  /** Tells the list apart from others. */
  list: unknown[];
  page: (after: string | undefined) => Promise<Page>;
  /** Where all of them are to be had as a file. */
  file: string;
  /** Where a name leads. */
  to: (person: Somebody) => string;
  onClose: () => void;
}) {
  const pages = useInfiniteQuery({
    queryKey: ['people', ...props.list],
    queryFn: ({ pageParam }) => props.page(pageParam),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
  });
  return (
    <aside
      aria-label={props.label}
      className="border-line bg-sheet flex w-[340px] shrink-0 flex-col border-l px-4 pt-4 pb-3"
    >
      <div className="flex items-start gap-2">
        <h2 className="font-display min-w-0 flex-1 text-[16px] font-semibold">
          {props.title}
          {props.words && <span className="text-ink2 block text-[13px] font-normal">{props.words}</span>}
        </h2>
        <button className="button" onClick={props.onClose}>
          Close
        </button>
      </div>
      {pages.isError ? (
        <ErrorNotice error={pages.error} onRetry={() => void pages.refetch()} />
      ) : (
        <>
          <p className="text-ink2 mt-1 mb-2 flex gap-3 text-[13px]">
            {pages.data ? count(pages.data.pages[0]?.accounts ?? 0, 'account') : 'Looking…'}
            <a className="quiet ml-auto" href={props.file}>
              As CSV
            </a>
          </p>
          <VirtualRows
            label="Accounts"
            items={pages.data?.pages.flatMap((p) => p.people) ?? []}
            maxHeight="calc(100dvh - 300px)"
            row={(person) => (
              <>
                <Link className="w-36 shrink-0 truncate font-semibold hover:underline" to={props.to(person)}>
                  {person.displayName}
                </Link>
                <span className="text-ink2 min-w-0 flex-1 truncate text-[13px]" title={person.told ?? person.unit}>
                  {person.told ?? person.unit}
                </span>
                <ViewAs id={person.account} name={person.displayName} />
              </>
            )}
          />
          {pages.hasNextPage && (
            <button className="button mt-2 self-start" onClick={() => void pages.fetchNextPage()}>
              More
            </button>
          )}
        </>
      )}
    </aside>
  );
}
