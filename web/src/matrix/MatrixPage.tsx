import { useMemo } from 'react';
import { usePageTitle } from '../parts/usePageTitle';
import { useLocation, useNavigate } from 'react-router';
import type { PolicyLine, Schemas, Session, Setting } from '../api/client';
import { readWho, useQuestion, type Named } from '../question/question';
import { useCatalogue, usePolicies, usePolicy } from '../parts/queries';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { FILTERS, type Filter } from './filters';
import { Matrix } from './Matrix';
import { Select } from '../parts/Select';

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
  const [question] = useQuestion();
  const asked = catalogue.data?.settings.find((s) => s.key === (params.get('column') ?? question.what?.id));
  // It opens where the question is.
  const columns =
    params.get('columns') ?? `app:${asked?.app ?? apps.find((a) => a.id === 'chat')?.id ?? apps[0]?.id ?? ''}`;
  const policies = usePolicies();
  const policy = usePolicy(columns.startsWith('policy:') ? columns.slice(7) : undefined);
  const settings = useMemo(() => {
    const names = new Map(catalogue.data?.apps.map((a) => [a.id, a.name]));
    const app = (s: Setting) => names.get(s.app ?? '') ?? '';
    const all = [...(catalogue.data?.settings ?? [])].sort(
      (a, b) => app(a).localeCompare(app(b)) || a.title.localeCompare(b.title),
    );
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
  const rows =
    (params.get('rows') ?? (question.who?.kind === 'group' ? 'groups' : 'units')) === 'groups' ? 'groups' : 'units';
  const filter = (params.get('filter') ?? undefined) as Filter | undefined;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pt-3 pb-1.5">
        <h1 className="font-display text-[18px] font-semibold">Matrix</h1>
        <Select
          label="Columns"
          className="max-w-64"
          value={columns}
          options={[
            ...apps.map((a) => ({ value: `app:${a.id}`, group: 'The settings of an app', label: a.name })),
            ...(catalogue.data?.families.map((f) => ({ value: `family:${f.id}`, group: 'A family', label: f.name })) ??
              []),
            ...(policies.data?.policies.map((p) => ({
              value: `policy:${p.id}`,
              group: 'What a policy sets',
              label: p.name,
            })) ?? []),
            { value: 'all', group: 'Other', label: 'Every setting' },
            {
              value: columns.startsWith('settings:') ? columns : chosenOf(settings.slice(0, MOST_CHOSEN)),
              group: 'Other',
              label: 'Chosen one by one',
            },
          ]}
          onChange={(v) => put('columns', v)}
        />
        <span className="text-ink2">by</span>
        <Select
          label="Rows"
          value={rows}
          options={[
            { value: 'units', label: 'units and people' },
            { value: 'groups', label: 'groups' },
          ]}
          onChange={(v) => put('rows', v)}
        />
        <span className="text-ink2">shown:</span>
        <Select
          label="Which rows to show"
          value={filter ?? ''}
          options={[
            { value: '', label: 'everything' },
            ...Object.entries(FILTERS).map(([word, label]) => ({ value: word, label })),
          ]}
          onChange={(v) => put('filter', v || undefined)}
        />
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
          at={{
            who: readWho(params.get('row')) ?? question.who,
            what: cellColumn(params.get('column')) ?? question.what,
          }}
          onStand={(row, column) => {
            const next = new URLSearchParams(search);
            next.set('row', row);
            next.set('column', column);
            void navigate(`/matrix?${next.toString().replaceAll('%3A', ':')}`, { replace: true });
          }}
          onColumn={(key) => {
            const app = catalogue.data?.settings.find((s) => s.key === key)?.app;
            const next = new URLSearchParams(search);
            next.set('columns', app ? `app:${app}` : 'all');
            next.set('what', `setting:${key}`);
            void navigate(`/matrix?${next.toString().replaceAll('%3A', ':')}`);
          }}
          title={`Matrix: ${columnsText(columns, catalogue.data, policies.data?.policies)} by ${rows === 'groups' ? 'groups' : 'units and people'}`}
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

const cellColumn = (key: string | null): Named | undefined => (key ? { id: key } : undefined);

/** What the columns are, for a heading. */
function columnsText(columns: string, catalogue?: Schemas['CatalogueView'], policies?: PolicyLine[]): string {
  const [kind, id = ''] = columns.split(/:(.*)/s);
  switch (kind) {
    case 'app':
      return catalogue?.apps.find((a) => a.id === id)?.name ?? 'settings';
    case 'family':
      return catalogue?.families.find((f) => f.id === id)?.name ?? 'a family';
    case 'policy':
      return policies?.find((p) => p.id === id)?.name ?? 'a policy';
    default:
      return kind === 'all' ? 'every setting' : 'chosen settings';
  }
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
