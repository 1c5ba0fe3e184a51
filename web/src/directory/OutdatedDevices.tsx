import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap, unwrapAs, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { PeopleAside } from '../parts/PeopleAside';
import { account, useQuestion, writeQuestion } from '../question/question';
import { count, joinList } from '../text/words';

type Blocked = Schemas['BlockedByDevices'];

/** Settings that are blocked because of people's devices, and for each the people, to work through. */
export function OutdatedDevices({ onClose }: { onClose: () => void }) {
  const after = useAfterDraft();
  const [chosen, setChosen] = useState<Blocked>();
  const found = useQuery({
    queryKey: ['outdated devices', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/outdated-devices', { params: { query: after.query } })),
  });
  if (chosen) return <People of={chosen} onClose={() => setChosen(undefined)} />;
  return (
    <aside
      aria-label="Devices that are too old"
      className="border-line w-[480px] shrink-0 overflow-y-auto border-l px-5 py-3 max-[1023px]:w-full"
    >
      <div className="flex items-start gap-3">
        <h2 className="font-display min-w-0 flex-1 text-[20px] font-bold">Devices that are too old</h2>
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
      {found.isError && <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />}
      {found.isPending && <p className="text-ink2">Looking at the devices…</p>}
      {found.data?.settings.length === 0 && (
        <p className="text-ink2 mt-2">
          No setting is blocked by somebody’s device. Devices come with the estate file, or from a file here.
        </p>
      )}
      <ul className="mt-2" aria-label="Settings blocked by devices">
        {found.data?.settings.map((line) => (
          <li key={line.setting} className="border-line flex items-baseline gap-3 border-b py-1.5">
            <span className="min-w-0 flex-1">
              <strong className="block font-semibold">{line.title}</strong>
              <span className="text-ink2 text-[13px]">Needs {joinList(line.need)}</span>
            </span>
            <button className="quiet" onClick={() => setChosen(line)}>
              {count(line.accounts, 'account')}
            </button>
          </li>
        ))}
      </ul>
    </aside>
  );
}

function People({ of, onClose }: { of: Blocked; onClose: () => void }) {
  const after = useAfterDraft();
  const [question] = useQuestion();
  const csv = new URLSearchParams({ format: 'csv' });
  if (after.query.draft !== undefined) csv.set('draft', String(after.query.draft));
  return (
    <PeopleAside
      label="People with devices that are too old"
      title={of.title}
      words={`needs ${joinList(of.need)}`}
      list={[of.setting, after.key]}
      page={(next) =>
        unwrapAs<Schemas['PeopleList']>(
          api.GET('/api/v1/outdated-devices/{setting}', {
            params: { path: { setting: of.setting }, query: { ...after.query, after: next, limit: 1000 } },
          }),
        )
      }
      file={`/api/v1/outdated-devices/${encodeURIComponent(of.setting)}?${csv.toString()}`}
      to={(person) =>
        `/ladder${writeQuestion({ ...question, who: account(person.account), what: { id: of.setting } })}`
      }
      onClose={onClose}
    />
  );
}
