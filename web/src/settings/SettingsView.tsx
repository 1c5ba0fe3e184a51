import { useAddressState } from '../parts/useAddressState';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { Link, useParams, useLocation } from 'react-router';
import { api, unwrap, type Session, type Setting } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useCatalogue, useSearch } from '../parts/queries';
import { usePageTitle } from '../parts/usePageTitle';
import { useQuestion, writeQuestion } from '../question/question';
import { count, formatNumber } from '../text/words';
import { SettingPage } from './SettingPage';
import { AppSelect } from '../parts/AppSelect';
import { CatalogueUpdate } from './CatalogueUpdate';

const SHOWN = [
  ['all', 'All'],
  ['stated', 'Changed here'],
  ['builtin', 'Built-in'],
  ['blocked', 'Blocked for many'],
  ['open', 'Open to workspaces'],
] as const;
type Shown = (typeof SHOWN)[number][0];

/** Every setting of the catalogue, found by the words people use; what is open stands beside. */
export function SettingsView({ session }: { session?: Session }) {
  const { key } = useParams();
  const [question] = useQuestion();
  const after = useAfterDraft();
  const catalogue = useCatalogue();
  const [typed, setTyped] = useAddressState<string>('filter', '');
  const [app, setApp] = useAddressState<string>('app', '');
  const [shown, setShown] = useAddressState<Shown>('show', 'all');
  const [updating, setUpdating] = useAddressState<string>('update', '');
  const { search } = useLocation();
  const list = useQuery({
    queryKey: ['settings', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/settings', { params: { query: after.query } })),
  });
  const found = useSearch(typed, 'setting', 200);
  const settings = new Map(catalogue.data?.settings.map((s) => [s.key, s]));
  const open = key === undefined ? undefined : settings.get(key);
  usePageTitle(open?.title ?? 'Settings');
  if (list.isError) return <ErrorNotice error={list.error} onRetry={() => void list.refetch()} />;
  const apps = new Map(catalogue.data?.apps.map((a) => [a.id, a.name]));
  const lines = new Map(list.data?.settings.map((line) => [line.key, line]));
  // What is typed is looked up where everything else is, best first; without it, all of them by title.
  const keys = typed.trim() === '' ? [...lines.keys()] : (found.data?.hits.map((hit) => hit.id) ?? []);
  const rows = keys
    .map((k) => lines.get(k))
    .filter((line) => line !== undefined)
    .filter((line) => app === '' || settings.get(line.key)?.app === app)
    .filter(
      (line) =>
        shown === 'all' ||
        (shown === 'open'
          ? line.openToWorkspaces
          : shown === 'blocked'
            ? line.blocked > 0
            : line.stated === (shown === 'stated')),
    )
    .sort((a, b) => (shown === 'blocked' ? b.blocked - a.blocked : 0));
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="Settings"
        className={clsx(
          'flex min-w-0 flex-1 flex-col',
          (key !== undefined || updating === 'yes') && 'max-[1023px]:hidden',
        )}
      >
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 px-5 pt-3 pb-2">
          <h1 className="font-display text-[18px] font-semibold">Settings</h1>
          <input
            className="field min-w-40 flex-1"
            aria-label="Find a setting"
            placeholder="Find by title, or by any word people use for it"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <AppSelect value={app} onChange={setApp} />
          <button
            className="button"
            aria-pressed={updating === 'yes'}
            onClick={() => setUpdating(updating === 'yes' ? '' : 'yes')}
          >
            Update the catalogue…
          </button>
        </div>
        <div
          role="group"
          aria-label="Which settings"
          className="flex flex-wrap items-baseline gap-x-4 px-5 pb-2 text-[13px]"
        >
          {SHOWN.map(([id, words]) => (
            <button
              key={id}
              aria-pressed={shown === id}
              className={shown === id ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink'}
              onClick={() => setShown(id)}
            >
              {words}
            </button>
          ))}
          <span className="text-ink2 ml-auto" role="status">
            {list.data ? count(rows.length, 'setting') : 'Reading the settings…'}
          </span>
        </div>
        <ul className="border-line min-h-0 flex-1 overflow-y-auto border-t" aria-label="All settings" tabIndex={0}>
          {rows.map((line) => (
            <li key={line.key}>
              <Link
                className={clsx(
                  'border-line hover:bg-well flex min-h-8 items-baseline gap-3 border-b px-5 py-1',
                  line.key === key && 'bg-well font-semibold',
                )}
                aria-current={line.key === key ? 'true' : undefined}
                to={`/settings/${encodeURIComponent(line.key)}${writeQuestion(question, search)}`}
              >
                <span className="min-w-0 flex-1">
                  {line.title}
                  <span className="text-ink2 block text-[13px] font-normal">{help(settings.get(line.key))}</span>
                </span>
                <span className="text-ink2 shrink-0 text-[13px] font-normal">
                  {apps.get(settings.get(line.key)?.app ?? '')}
                  {shown === 'blocked'
                    ? ` · blocked for ${formatNumber(line.blocked)}`
                    : line.stated && ' · changed here'}
                </span>
              </Link>
            </li>
          ))}
          {list.data && rows.length === 0 && !found.isPlaceholderData && (
            <li className="text-ink2 px-5 py-2">No setting fits. Try another word, or show all of them.</li>
          )}
        </ul>
      </section>
      {updating === 'yes' && <CatalogueUpdate onClose={() => setUpdating('')} />}
      {key !== undefined && updating !== 'yes' && (
        <SettingPage
          key={key}
          id={key}
          setting={open}
          app={apps.get(open?.app ?? '')}
          families={catalogue.data?.families ?? []}
          zone={session?.organisation?.timeZone ?? 'UTC'}
          everyone={session?.organisation?.accounts ?? 0}
        />
      )}
    </div>
  );
}

const help = (setting?: Setting): string => setting?.help ?? '';
