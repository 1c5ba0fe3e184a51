import { useMemo } from 'react';
import { usePageTitle } from '../parts/usePageTitle';
import { useLocation, useNavigate } from 'react-router';
import type { Session, Setting } from '../api/client';
import { useCatalogue, usePolicies, usePolicy } from '../parts/queries';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { FILTERS, Matrix, type Filter } from './Matrix';

/** The whole estate as one matrix: units down to people, or groups, by settings. */
export function MatrixPage({ session }: { session?: Session }) {
  const catalogue = useCatalogue();
  const { search } = useLocation();
  const navigate = useNavigate();
  const params = useMemo(() => new URLSearchParams(search), [search]);
  usePageTitle('Matrix');
  const put = (name: string, value: string | undefined) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    void navigate(`/matrix?${next.toString().replaceAll('%3A', ':')}`, { replace: true });
  };
  const apps = catalogue.data?.apps ?? [];
  const columns = params.get('columns') ?? `app:${apps.find((a) => a.id === 'chat')?.id ?? apps[0]?.id ?? ''}`;
  const policies = usePolicies();
  const policy = usePolicy(columns.startsWith('policy:') ? columns.slice(7) : undefined);
  const settings = useMemo(() => {
    const all = catalogue.data?.settings ?? [];
    const [kind, id = ''] = columns.split(/:(.*)/s);
    if (kind === 'app') return all.filter((s) => s.app === id);
    if (kind === 'family') {
      const family = catalogue.data?.families.find((f) => f.id === id);
      const keys = new Set(family?.states.flatMap((s) => Object.keys(s.values)));
      return all.filter((s) => keys.has(s.key));
    }
    if (kind === 'policy') {
      const keys = new Set(policy.data?.says.map((s) => s.setting));
      return all.filter((s) => keys.has(s.key));
    }
    if (kind === 'settings') {
      const byKey = new Map(all.map((s) => [s.key, s]));
      return keysOf(columns).flatMap((key) => byKey.get(key) ?? []);
    }
    return all.slice(0, 300);
  }, [catalogue.data, columns, policy.data]);
  if (catalogue.isError) return <ErrorNotice error={catalogue.error} onRetry={() => void catalogue.refetch()} />;
  const rows = params.get('rows') === 'groups' ? 'groups' : 'units';
  const filter = (params.get('filter') ?? undefined) as Filter | undefined;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pt-3 pb-1.5">
        <h1 className="font-display text-[18px] font-semibold">Matrix</h1>
        <select
          className="field max-w-64"
          aria-label="Columns"
          value={columns}
          onChange={(e) => put('columns', e.target.value)}
        >
          <optgroup label="The settings of an app">
            {apps.map((a) => (
              <option key={a.id} value={`app:${a.id}`}>
                {a.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="A family">
            {catalogue.data?.families.map((f) => (
              <option key={f.id} value={`family:${f.id}`}>
                {f.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="What a policy speaks on">
            {policies.data?.policies.map((p) => (
              <option key={p.id} value={`policy:${p.id}`}>
                {p.name}
              </option>
            ))}
          </optgroup>
          <option value="all">Every setting</option>
          <option value={columns.startsWith('settings:') ? columns : chosenOf(settings.slice(0, MOST_CHOSEN))}>
            Chosen one by one
          </option>
        </select>
        <span className="text-ink2">by</span>
        <select
          className="field"
          aria-label="Rows"
          value={rows}
          onChange={(e) => put('rows', e.target.value === 'groups' ? 'groups' : undefined)}
        >
          <option value="units">units and people</option>
          <option value="groups">groups</option>
        </select>
        <span className="text-ink2">shown:</span>
        <select
          className="field"
          aria-label="Which rows to show"
          value={filter ?? ''}
          onChange={(e) => put('filter', e.target.value || undefined)}
        >
          <option value="">everything</option>
          {Object.entries(FILTERS).map(([word, label]) => (
            <option key={word} value={word}>
              {label}
            </option>
          ))}
        </select>
      </div>
      {columns.startsWith('settings:') && (
        <Chosen settings={settings} onChoose={(keys) => put('columns', `settings:${keys.join(',')}`)} />
      )}
      {settings.length === 0 ? (
        <p className="text-ink2 px-5 py-3">
          {catalogue.data ? 'There is no setting among these columns; choose others above.' : 'Looking…'}
        </p>
      ) : (
        <Matrix
          key={`${columns} ${rows} ${filter}`}
          settings={settings}
          rows={rows}
          filter={filter}
          onClearFilter={() => put('filter', undefined)}
          zone={session?.organisation?.timeZone ?? 'UTC'}
        />
      )}
    </div>
  );
}

/** How an address names columns that are chosen one by one. */
const chosenOf = (settings: Setting[]): string => `settings:${settings.map((s) => s.key).join(',')}`;

/** More would not fit into an address. */
const MOST_CHOSEN = 40;

const keysOf = (columns: string): string[] =>
  columns
    .slice(columns.indexOf(':') + 1)
    .split(',')
    .filter(Boolean);

/** The columns chosen one by one: each is taken away by its name, others are found by any word for them. */
function Chosen({ settings, onChoose }: { settings: Setting[]; onChoose: (keys: string[]) => void }) {
  const keys = settings.map((s) => s.key);
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pb-2 text-[13px]">
      {settings.map((s) => (
        <button
          key={s.key}
          className="border-line2 hover:bg-well flex items-center gap-1.5 border-b px-0.5"
          aria-label={`Take ${s.title} away`}
          onClick={() => onChoose(keys.filter((k) => k !== s.key))}
        >
          {s.title} <span aria-hidden>✕</span>
        </button>
      ))}
      {settings.length < MOST_CHOSEN ? (
        <span className="w-72">
          <EntityPicker
            label="Add a column"
            placeholder="Add a column: any word for it"
            kinds="setting"
            refuse={(hit) => (keys.includes(hit.id) ? 'It is a column already' : undefined)}
            onPick={(hit) => onChoose([...keys, hit.id])}
          />
        </span>
      ) : (
        <span className="text-ink2">More than {MOST_CHOSEN} cannot be chosen one by one.</span>
      )}
    </div>
  );
}
