import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, unwrap, unwrapAs, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { VirtualRows } from '../parts/VirtualRows';
import { account as accountOf, useQuestion, writeQuestion } from '../question/question';
import { count, joinList } from '../text/words';

type Line = Schemas['AdmissionSetting'];
type Way = 'admits' | 'admitted';

const SHOWN = 1000;

/** Settings whose values are people, from both ends: whom this one admits, and who admits this one. Nothing where there are none. */
export function Admissions({ id, name }: { id: string; name: string }) {
  const after = useAfterDraft();
  const found = useQuery({
    queryKey: ['admissions', id, after.key],
    queryFn: () =>
      unwrap(api.GET('/api/v1/accounts/{id}/admissions', { params: { path: { id }, query: after.query } })),
    placeholderData: (before) => before,
  });
  const told = found.data?.settings.filter(isTold) ?? [];
  if (told.length === 0) return null;
  return (
    <section aria-label="People as values">
      {told.map((line) => (
        <Setting key={line.setting} id={id} name={name} line={line} />
      ))}
    </section>
  );
}

/** Where nobody decided anything and everyone stands in everyone's value, there is nothing to tell. */
const isTold = (line: Line) => Boolean(line.policy) || line.admits !== line.admitted;

function Setting({ id, name, line }: { id: string; name: string; line: Line }) {
  const [question] = useQuestion();
  const [open, setOpen] = useState<Way>();
  const toggle = (way: Way) => setOpen(open === way ? undefined : way);
  return (
    <>
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        <Link
          className="hover:underline"
          to={`/ladder${writeQuestion({ ...question, who: accountOf(id), what: { id: line.setting } })}`}
        >
          {line.title}
        </Link>
      </h2>
      <p>
        For {name}: {line.value.length === 0 ? 'nobody' : joinList(line.value.map((t) => t.name))}
        <span className="text-ink2">{line.policy ? `, says ${line.policy}` : ', the built-in value'}</span>
      </p>
      <p className="flex flex-wrap gap-x-4">
        <button className="quiet" aria-expanded={open === 'admits'} onClick={() => toggle('admits')}>
          Holds {count(line.admits, 'account')}
        </button>
        <button className="quiet" aria-expanded={open === 'admitted'} onClick={() => toggle('admitted')}>
          {count(line.admitted, 'account names', 'accounts name')} {name}
        </button>
      </p>
      {open && <People id={id} setting={line.setting} way={open} />}
    </>
  );
}

function People(props: { id: string; setting: string; way: Way }) {
  const after = useAfterDraft();
  const [question] = useQuestion();
  const found = useQuery({
    queryKey: ['admitted', props.id, props.setting, props.way, after.key],
    queryFn: () =>
      unwrapAs<Schemas['AdmissionPage']>(
        api.GET('/api/v1/accounts/{id}/admissions/{setting}', {
          params: {
            path: { id: props.id, setting: props.setting },
            query: { ...after.query, way: props.way, limit: SHOWN },
          },
        }),
      ),
  });
  const csv = new URLSearchParams({ way: props.way, format: 'csv' });
  if (after.query.draft !== undefined) csv.set('draft', String(after.query.draft));
  return (
    <>
      <VirtualRows
        label={props.way === 'admits' ? 'Whom the value holds' : 'Whose values name this one'}
        items={found.data?.people ?? []}
        maxHeight="200px"
        row={(person) => (
          <>
            <Link
              className="w-36 shrink-0 truncate font-semibold hover:underline"
              to={`/ladder${writeQuestion({ ...question, who: accountOf(person.account), what: { id: props.setting } })}`}
            >
              {person.displayName}
            </Link>
            <span className="text-ink2 truncate text-[13px]" title={`${person.unit}, ${person.by}`}>
              {person.by}
            </span>
          </>
        )}
      />
      <a
        className="quiet text-[13px]"
        href={`/api/v1/accounts/${encodeURIComponent(props.id)}/admissions/${props.setting}?${csv.toString()}`}
      >
        As CSV
      </a>
    </>
  );
}
