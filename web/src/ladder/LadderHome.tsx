import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { unwrap, api, type Schemas } from '../api/client';
import { FreeTextSearch } from '../parts/FreeTextSearch';
import { recentQueries } from '../parts/recentQueries';
import { useLogbook } from '../parts/queries';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useAfterDraft } from '../draft/draft';
import { EVERYONE, writeQuestion, type Who } from '../question/question';
import { formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';
import { RUNGS } from './rungs';

type Overview = Schemas['Overview'];
type Named = Schemas['SettingCount'];

const CHANGES = 6;

/** The first page: the question as the one thing to do, what was asked and changed last, and the whole estate in one picture. */
export function LadderHome({ zone }: { zone: string }) {
  const after = useAfterDraft();
  const overview = useQuery({
    queryKey: ['overview', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/overview', { params: { query: after.query } })),
    placeholderData: (before) => before,
  });
  return (
    <div className="h-full overflow-y-auto px-8 pt-8 pb-10" role="region" aria-label="Start" tabIndex={0}>
      <div className="mx-auto max-w-[640px]">
        <h1 className="font-display text-center text-[24px] font-bold">What do you want to know?</h1>
        <div className="mt-3">
          <FreeTextSearch large />
        </div>
      </div>
      <div className="mx-auto mt-6 grid max-w-[1240px] gap-x-10 gap-y-8 md:grid-cols-2 xl:grid-cols-[minmax(0,1.25fr)_minmax(0,1.1fr)_minmax(0,0.9fr)]">
        {overview.isError ? (
          <ErrorNotice error={overview.error} onRetry={() => void overview.refetch()} />
        ) : overview.data ? (
          <>
            <Decided overview={overview.data} />
            <Differing overview={overview.data} />
          </>
        ) : (
          <p className="text-ink2 xl:col-span-2">Counting…</p>
        )}
        <div className="space-y-7 md:col-span-2 xl:col-span-1">
          <AskedLast />
          <ChangedLast zone={zone} />
        </div>
      </div>
    </div>
  );
}

/** Names of settings, each leading to its ladder for many. */
function Settings({ who, settings }: { who: Who; settings: Named[] }) {
  return (
    <span className="text-[13px]">
      {settings.map((s, i) => (
        <span key={s.setting}>
          {i > 0 && <span className="text-ink2">, </span>}
          <Link className="quiet" to={`/ladder${writeQuestion({ who, what: { id: s.setting } })}`}>
            {s.title}
          </Link>{' '}
          <span className="text-ink2">{formatNumber(s.accounts)}</span>
        </span>
      ))}
    </span>
  );
}

/** The ladder of the whole organisation: on which rung how many accounts have something decided. */
function Decided({ overview }: { overview: Overview }) {
  const share = (n: number) => `${Math.max(n > 0 ? 0.6 : 0, (100 * n) / Math.max(1, overview.accounts))}%`;
  return (
    <section aria-label="Decided on which rung">
      <h2 className="font-display text-[16px] font-semibold">Decided on which rung</h2>
      <p className="text-ink2 text-[13px]">
        {count(overview.accounts, 'account')}, {count(overview.settings, 'setting')}: {formatNumber(overview.cells)}{' '}
        cells
      </p>
      <ol className="border-ink2 mt-2 border-x-2" aria-label="Rungs, the highest first">
        {[...overview.rungs].reverse().map((rung) => (
          <li key={rung.height} className="border-line2 border-b-2 px-3 py-1.5">
            <span className="flex items-baseline gap-2">
              <span className={rung.cells > 0 ? 'font-semibold' : 'text-ink2'}>{RUNGS[rung.height]}</span>
              <span className="ml-auto">{rung.cells > 0 ? count(rung.accounts, 'account') : 'nothing'}</span>
            </span>
            <span className="bg-well mt-1 block h-2">
              <span className="settles bg-decide block h-2" style={{ width: share(rung.accounts) }} />
            </span>
            {rung.cells > 0 && (
              <span className="mt-1 block">
                <span className="text-ink2 text-[13px]">
                  {count(rung.cells, 'cell')} of {count(rung.settings, 'setting')}:{' '}
                </span>
                <Settings who={EVERYONE} settings={rung.most} />
              </span>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** A number with one digit after the point. */
const tenths = (n: number) => n.toLocaleString('en-GB', { maximumFractionDigits: 1 });

/** In which units people have something else than most of the organisation. */
function Differing({ overview }: { overview: Overview }) {
  const each = (unit: Overview['units'][number]) => unit.cells / Math.max(1, unit.accounts);
  const most = Math.max(0.1, ...overview.units.map(each));
  return (
    <section aria-label="What differs where">
      <h2 className="font-display text-[16px] font-semibold">What differs where</h2>
      <p className="text-ink2 text-[13px]">Settings in which an account has something else than most do, on average</p>
      {overview.units.length === 0 && <p className="mt-2">There are no units below the organisation.</p>}
      <ul className="border-line mt-2 border-t">
        {overview.units.map((unit) => (
          <li key={unit.id} className="border-line border-b py-1.5">
            <span className="flex items-baseline gap-2">
              <Link
                className="min-w-0 truncate font-semibold hover:underline"
                to={`/directory/units/${encodeURIComponent(unit.id)}`}
              >
                {unit.name}
              </Link>
              <span className="ml-auto whitespace-nowrap">
                {tenths(each(unit))} {each(unit) === 1 ? 'setting' : 'settings'}{' '}
                <span className="text-ink2 text-[13px]">
                  · {unit.differing < unit.accounts && `${formatNumber(unit.differing)} of `}
                  {count(unit.accounts, 'account')}
                </span>
              </span>
            </span>
            <span className="bg-well mt-1 block h-2">
              <span className="settles bg-decide block h-2" style={{ width: `${(100 * each(unit)) / most}%` }} />
            </span>
            {unit.most.length > 0 && (
              <span className="mt-1 block">
                <Settings who={{ kind: 'unit', id: unit.id }} settings={unit.most} />
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function AskedLast() {
  const [asked] = useState(recentQueries);
  if (asked.length === 0) return null;
  return (
    <section aria-label="Asked last">
      <h2 className="font-display text-[16px] font-semibold">Asked last</h2>
      <ul className="border-line mt-1 border-t">
        {asked.map((one) => (
          <li key={one.query} className="border-line truncate border-b py-1">
            <Link className="hover:underline" to={`/ladder${one.query}`} title={one.words}>
              {one.words}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function ChangedLast({ zone }: { zone: string }) {
  const logbook = useLogbook();
  const changes = (logbook.data?.pages[0]?.changes ?? []).slice(0, CHANGES);
  if (changes.length === 0) return null;
  return (
    <section aria-label="Changed last">
      <h2 className="font-display text-[16px] font-semibold">Changed last</h2>
      <ul className="border-line mt-1 border-t">
        {changes.map((change) => (
          <li key={change.number} className="border-line border-b py-1">
            <Link className="block truncate hover:underline" to={`/logbook/${change.number}`} title={change.title}>
              {change.title}
            </Link>
            <span className="text-ink2 block truncate text-[13px]">
              {formatInstant(change.at, zone)}, {change.author}
              {change.accounts !== null && `, ${count(change.accounts, 'account')}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
