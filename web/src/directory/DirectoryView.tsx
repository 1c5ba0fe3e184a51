import { usePageTitle } from '../parts/usePageTitle';
import { clsx } from 'clsx';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { type Session } from '../api/client';
import { PastWarning } from '../parts/PastWarning';
import { useQuestion, writeQuestion } from '../question/question';
import { DirectoryDetail } from './DirectoryDetail';
import { CsvImportPanel } from './CsvImportPanel';
import { NewEntity } from './NewEntity';
import { Selection } from './Selection';
import { type ListName, type Listed } from './columns';
import { DirectoryRows } from './DirectoryRows';
import { OutdatedDevices } from './OutdatedDevices';
import { WorkspaceOverview } from './WorkspaceOverview';

const LISTS: [Listed, ...Listed[]] = [
  { name: 'people', title: 'People', one: 'person', many: 'people' },
  { name: 'rooms', title: 'Rooms', one: 'room' },
  { name: 'guests', title: 'Guests', one: 'guest' },
  { name: 'services', title: 'Services', one: 'service account' },
  { name: 'groups', title: 'Groups', one: 'group' },
  { name: 'units', title: 'Units', one: 'unit' },
  { name: 'workspaces', title: 'Workspaces', one: 'workspace' },
  { name: 'hostings', title: 'Hosting', one: 'hosting', many: 'hostings' },
];
const ACCOUNTS: ListName[] = ['people', 'rooms', 'guests', 'services'];
/** Who and what there is, after the draft, as lists; what is open stands beside. */
export function DirectoryView({ session }: { session?: Session }) {
  const { list: listed, id } = useParams();
  const list = LISTS.find((l) => l.name === listed) ?? LISTS[0];
  const { search } = useLocation();
  const navigate = useNavigate();
  const [question] = useQuestion();
  const params = useMemo(() => new URLSearchParams(search), [search]);
  const [adding, setAdding] = useState<'one' | 'file' | 'devices' | 'places'>();
  const [chosen, setChosen] = useState<Map<string, string>>(new Map());
  usePageTitle(`${list.title}`);
  const filters = {
    q: params.get('q') ?? undefined,
    active: (params.get('active') ?? undefined) as 'true' | 'false' | undefined,
    purpose: (params.get('purpose') ?? undefined) as 'access' | 'mailing' | undefined,
    sort: (params.get('sort') ?? undefined) as 'name' | undefined,
  };
  const go = (next: Record<string, string | undefined>, open?: string, name = list.name) => {
    const query = new URLSearchParams(writeQuestion(question));
    for (const [key, value] of Object.entries(next)) if (value) query.set(key, value);
    const text = query.toString().replaceAll('%3A', ':');
    void navigate(
      `/directory/${name}${open === undefined ? '' : `/${encodeURIComponent(open)}`}${text ? `?${text}` : ''}`,
    );
  };
  const isAccounts = ACCOUNTS.includes(list.name);
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label={list.title}
        className={clsx('flex min-w-0 flex-1 flex-col', (id !== undefined || adding) && 'max-[1023px]:hidden')}
      >
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 pt-3 pb-2">
          <h1 className="sr-only">Directory</h1>
          <div role="group" aria-label="List" className="flex flex-wrap gap-x-4">
            {LISTS.map((l) => (
              <button
                key={l.name}
                aria-pressed={l.name === list.name}
                className={clsx(
                  'font-display py-1 text-[16px]',
                  l.name === list.name ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
                )}
                onClick={() => {
                  setChosen(new Map());
                  setAdding(undefined);
                  go({}, undefined, l.name);
                }}
              >
                {l.title}
              </button>
            ))}
          </div>
          <span className="ml-auto flex gap-2">
            {list.name === 'workspaces' && (
              <button className="button" onClick={() => setAdding('places')}>
                Where they differ
              </button>
            )}
            {isAccounts && (
              <button className="button" onClick={() => setAdding('devices')}>
                Old devices
              </button>
            )}
            <button className="button" onClick={() => setAdding('one')}>
              New {list.one}
            </button>
            {list.name !== 'workspaces' && list.name !== 'hostings' && (
              <button className="button" onClick={() => setAdding('file')}>
                From a file
              </button>
            )}
          </span>
        </div>
        <PastWarning />
        <DirectoryRows
          key={list.name}
          list={list}
          filters={filters}
          id={id}
          chosen={isAccounts ? chosen : undefined}
          onChoose={setChosen}
          onFilter={(next) => go({ ...filters, ...next }, id)}
          onClear={() => go({}, id)}
          onOpen={(row) => go(filters, row)}
          onGroup={(group) => go({}, group, 'groups')}
        />
        {chosen.size > 0 && (
          <Selection chosen={chosen} onDone={() => setChosen(new Map())} onGroup={(group) => go({}, group, 'groups')} />
        )}
      </section>
      {adding === 'places' ? (
        <WorkspaceOverview onClose={() => setAdding(undefined)} />
      ) : adding === 'devices' ? (
        <OutdatedDevices onClose={() => setAdding(undefined)} />
      ) : adding === 'file' ? (
        <CsvImportPanel list={list.name} onClose={() => setAdding(undefined)} />
      ) : adding === 'one' ? (
        <NewEntity
          list={list.name}
          onClose={() => setAdding(undefined)}
          onCreated={(created) => {
            setAdding(undefined);
            go(filters, created);
          }}
        />
      ) : (
        id !== undefined && (
          <DirectoryDetail
            key={`${list.name} ${id}`}
            list={list.name}
            id={id}
            zone={session?.organisation?.timeZone ?? 'UTC'}
            onClose={() => go(filters)}
            onOpen={(name, open) => go({}, open, name)}
          />
        )
      )}
    </div>
  );
}
