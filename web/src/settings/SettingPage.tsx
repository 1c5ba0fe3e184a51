import { useQuery } from '@tanstack/react-query';
import { Link, useLocation, useNavigate } from 'react-router';
import { api, unwrap, type Family, type Setting } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { settlingText } from '../draft/impactText';
import { TurnOff } from '../parts/TurnOff';
import { History } from '../parts/History';
import { Picture } from '../parts/Picture';
import { Usage } from '../parts/Usage';
import { ErrorNotice } from '../parts/ErrorNotice';
import { EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { capital, formatNumber, joinList } from '../text/words';

const AFTERWARDS: Record<string, string> = {
  refresh: 'once people refresh the page',
  'sign-in': 'once people sign in again',
  restart: 'once people restart the app',
  update: 'once people update the program',
  clear: 'once people clear what the app has stored',
};

/** One setting: what it is, what it needs, who states something about it, and what is in effect for how many. */
export function SettingPage(props: {
  id: string;
  setting?: Setting;
  app?: string;
  families: Family[];
  zone: string;
  everyone: number;
}) {
  const { id, setting } = props;
  const [question] = useQuestion();
  const after = useAfterDraft();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ['setting', id, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/settings/{key}', { params: { path: { key: id }, query: after.query } })),
  });
  const { search } = useLocation();
  const close = () => void navigate(`/settings${writeQuestion(question, search)}`);
  const view = found.data;
  const asked = (search: Parameters<typeof writeQuestion>[0]) => `/ladder${writeQuestion(search)}`;
  const families = props.families.filter((f) => f.states.some((state) => id in state.values));
  return (
    <aside
      aria-label={setting?.title ?? 'The setting'}
      className="border-line w-[480px] shrink-0 overflow-y-auto border-l px-5 py-3 max-[1023px]:w-full"
    >
      <div className="flex items-start gap-3">
        <h2 className="font-display min-w-0 flex-1 text-[20px] font-bold">{view?.title ?? setting?.title}</h2>
        <button className="button" onClick={close}>
          Close
        </button>
      </div>
      {found.isError && <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />}
      {found.isPending && <p className="text-ink2">Reading the setting…</p>}
      {view && (
        <>
          {setting?.help && <p className="mt-1">{setting.help}</p>}
          <Picture value={setting?.default} className="mt-2 h-20" />
          <div className="mt-3 flex flex-wrap items-start gap-2">
            <Link className="button" to={asked({ ...question, who: EVERYONE, what: { id } })}>
              See and change it for everyone
            </Link>
            {setting && <TurnOff setting={setting} zone={props.zone} />}
          </div>
          <h3 className="font-display mt-5 text-[16px] font-semibold">In effect</h3>
          <ul aria-label="Values in effect">
            {view.values.map((v) => (
              <li key={v.value} className="border-line flex gap-3 border-b py-1">
                <span className="min-w-0 flex-1">{capital(v.value)}</span>
                <span className="tabular-nums">{formatNumber(v.accounts)}</span>
              </li>
            ))}
          </ul>
          {view.blocked > 0 && (
            <p className="text-shut mt-1 text-[13px]">
              Blocked for {formatNumber(view.blocked)}, who lack what it needs.
            </p>
          )}
          <Usage setting={id} />
          <h3 className="font-display mt-5 text-[16px] font-semibold">Policies that state something about it</h3>
          {view.statements.length === 0 && (
            <p className="text-ink2">None: it is {view.builtIn}, the built-in value, for everybody.</p>
          )}
          <ul aria-label="Policies">
            {view.statements.map((s) => (
              <li key={s.policy + s.says} className="border-line flex items-baseline gap-3 border-b py-1">
                <span className="min-w-0 flex-1">
                  <Link className="quiet" to={`/policies/${encodeURIComponent(s.policy)}${writeQuestion(question)}`}>
                    {s.name}
                  </Link>
                  {!s.live && <span className="text-ink2"> (paused)</span>}
                </span>
                <span>{s.says}</span>
                <span className="text-ink2 w-36 text-right text-[13px]">
                  {s.cap ? 'binds for' : 'decides for'} {s.decides > 0 ? formatNumber(s.decides) : 'nobody'}
                </span>
              </li>
            ))}
          </ul>
          <h3 className="font-display mt-5 text-[16px] font-semibold">About it</h3>
          <dl className="grid grid-cols-[120px_1fr] gap-x-3 gap-y-1">
            {facts(props.app, setting, view.builtIn, view.needs).map(([name, words]) => (
              <div key={name} className="contents">
                <dt className="text-ink2">{name}</dt>
                <dd>{words}</dd>
              </div>
            ))}
            {view.dependents.length > 0 && (
              <>
                <dt className="text-ink2">Needed by</dt>
                <dd className="flex flex-wrap gap-x-3">
                  {view.dependents.map((d) => (
                    <Link
                      key={d.id}
                      className="quiet"
                      to={`/settings/${encodeURIComponent(d.id)}${writeQuestion(question)}`}
                    >
                      {d.name}
                    </Link>
                  ))}
                </dd>
              </>
            )}
            {families.length > 0 && (
              <>
                <dt className="text-ink2">Set together as</dt>
                <dd>{joinList(families.map((f) => f.name))}</dd>
              </>
            )}
          </dl>
          <History about={{ setting: id }} zone={props.zone} />
        </>
      )}
    </aside>
  );
}

/** What the catalogue says of a setting, in words. */
export function facts(
  app: string | undefined,
  setting: Setting | undefined,
  builtIn: string,
  needs: string[],
): [string, string][] {
  if (!setting) return [];
  const all: [string, string | undefined][] = [
    ['App', app],
    ['Values', values(setting)],
    ['Built-in', builtIn],
    ['Strict end', strictEnd(setting)],
    ['Needs', needs.length > 0 ? joinList(needs) : 'nothing'],
    ['Workspaces', setting.openToWorkspaces ? 'may have settings of their own' : 'follow everybody else'],
    ['Arrives', arrives(setting)],
    ['Caution', setting.caution],
  ];
  return all.filter((fact): fact is [string, string] => fact[1] !== undefined);
}

function values(setting: Setting): string {
  switch (setting.type) {
    case 'switch':
      return 'On or Off';
    case 'choice':
      return joinList((setting.options ?? []).map((o) => o.replaceAll('-', ' ')));
    case 'number':
      return `${formatNumber(setting.min ?? 0)} to ${formatNumber(setting.max ?? 0)} ${setting.unit ?? ''}`.trim();
    case 'list':
      return 'a list';
    case 'link':
      return 'an address';
    case 'people':
      return 'people, groups and units';
    case 'picture':
      return 'a picture: PNG, JPEG, WebP or SVG of at most 256 KB';
    default:
      return setting.byLanguage ? 'text, in several languages' : 'text';
  }
}

function strictEnd(setting: Setting): string | undefined {
  if (setting.type === 'switch') return setting.strict === true ? 'On' : 'Off';
  if (setting.type === 'choice') return setting.ordered ? setting.options?.[0]?.replaceAll('-', ' ') : undefined;
  return setting.type === 'number' && typeof setting.strict === 'string' ? `${setting.strict} is stricter` : undefined;
}

function arrives(setting: Setting): string {
  if (!setting.settles) return 'at once';
  const then = setting.settles.then ? AFTERWARDS[setting.settles.then] : undefined;
  return [settlingText(setting.settles.minMinutes, setting.settles.maxMinutes), then].filter(Boolean).join(', ');
}
