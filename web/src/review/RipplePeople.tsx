import { unwrapAs, api, type Draft, type Schemas } from '../api/client';
import { PeopleAside } from '../parts/PeopleAside';
import { account, useQuestion, writeQuestion } from '../question/question';
import type { ImpactFilter } from './impactFilter';

/** Somebody in a ripple; what moves is told where no one setting is asked for. */
type Someone = Schemas['PeopleList']['people'][number] &
  Partial<Pick<Schemas['RippleView']['people'][number], 'changes'>>;

/** The people of a part of the ripple, beside it. */
export function RipplePeople({ draft, part, onClose }: { draft: Draft; part: ImpactFilter; onClose: () => void }) {
  const { title, words, query } = part;
  const [question] = useQuestion();
  const csv = new URLSearchParams({ ...query, format: 'csv' });
  if (!query.setting && !query.part && !query.unit) csv.set('part', 'all');
  return (
    <PeopleAside
      label="By name"
      title={title}
      words={words}
      list={[draft.id, draft.version, draft.change, query]}
      page={async (after) => {
        const page = await unwrapAs<Schemas['RippleView'] | Schemas['PeopleList']>(
          api.GET('/api/v1/drafts/{id}/ripple', {
            params: { path: { id: draft.id }, query: { ...query, after, limit: 1000 } },
          }),
        );
        const people = page.people.map(({ changes, ...person }: Someone) => ({
          ...person,
          told: changes?.map((c) => `${c.title}: ${c.from} → ${c.to}`).join('; '),
        }));
        return { accounts: page.accounts, people, next: page.next };
      }}
      file={`/api/v1/drafts/${draft.id}/ripple?${csv.toString()}`}
      to={(person) =>
        `/ladder${writeQuestion({
          ...question,
          who: account(person.account),
          ...(query.setting ? { what: { id: query.setting } } : {}),
          when: `draft:${draft.id}`,
        })}`
      }
      onClose={onClose}
    />
  );
}
