import { useAddressState } from '../parts/useAddressState';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useEffect, useMemo, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { AccountSetting, AccountView } from '../api/client';
import { useAccount, useAccountSettings, useCatalogue, useSearch } from '../parts/queries';
import { ViewAs } from '../parts/SuitePage';
import { ErrorNotice } from '../parts/ErrorNotice';
import type { Question } from '../question/question';
import { RungMark, StandingMark } from '../parts/marks';
import { count, joinList } from '../text/words';
import { AppSelect } from '../parts/AppSelect';

const ROW = 30;

/** Whom it is about, and all their settings with values, rung marks and standings. */
export function AccountColumn({ question, ask }: { question: Question; ask: (q: Question) => void }) {
  const account = useAccount(question);
  const settings = useAccountSettings(question);
  return (
    <aside
      aria-label="Account"
      className="bg-paper border-line flex w-[300px] shrink-0 flex-col border-r max-[1023px]:h-[420px] max-[1023px]:w-full max-[1023px]:border-b xl:w-[316px]"
    >
      {account.isError && question.what ? (
        <p className="text-ink2 p-4">Nobody to show.</p>
      ) : account.isError ? (
        <ErrorNotice error={account.error} />
      ) : account.data ? (
        <Standing account={account.data} />
      ) : (
        <p className="p-4">Looking…</p>
      )}
      {settings.data && account.data && <Settings rows={settings.data.settings} question={question} ask={ask} />}
    </aside>
  );
}

function Standing({ account }: { account: AccountView }) {
  const path = account.path.slice(account.path.length > 1 ? 1 : 0).map((u) => u.name);
  const seats = account.seats.map((s) => (s.standing === 'seated' ? s.plan : `${s.plan} (${s.standing})`));
  return (
    <div className="px-4 pt-3 pb-2 text-[13px] leading-[19px]">
      <div className="flex items-baseline gap-2">
        <h2
          className="font-display min-w-0 flex-1 truncate text-[18px] leading-6 font-semibold"
          title={account.userName}
        >
          {account.displayName}
        </h2>
        <ViewAs id={account.id} name={account.displayName} />
      </div>
      <p className="text-ink2">
        {account.title ?? account.kind} · <span className="text-ink font-medium">{path.join(' › ')}</span>
      </p>
      <p className="text-ink2 line-clamp-2" title={account.groups.map((g) => g.name).join(', ')}>
        {account.groups.length === 0 ? 'In no group' : joinList(account.groups.map((g) => g.name))}
      </p>
      <p className="text-ink2">
        {seats.length === 0 ? 'No seat' : joinList(seats)}
        {account.ring && (
          <>
            {' · ring '}
            <span className="text-ink font-medium">{account.ring.name}</span>
            {account.ring.asksConsent &&
              (account.ring.consented ? `, consented ${account.ring.consented}` : ', not consented')}
          </>
        )}
      </p>
    </div>
  );
}

type Show = 'all' | 'differs' | 'blocked';

function Settings({ rows, question, ask }: { rows: AccountSetting[]; question: Question; ask: (q: Question) => void }) {
  const catalogue = useCatalogue();
  const { search } = useLocation();
  const navigate = useNavigate();
  const [show, setShow] = useAddressState<Show>('show', 'all');
  const [app, setApp] = useAddressState<string>('app', '');
  const [text, setText] = useAddressState<string>('filter', '');
  const apps = useMemo(() => new Map(catalogue.data?.apps.map((a) => [a.id, a.name])), [catalogue.data]);
  // What is typed is looked up where everything else is, best first.
  const found = useSearch(text, 'setting', 200);
  const hits = useMemo(
    () => (text.trim() === '' ? undefined : new Map(found.data?.hits.map((hit, i) => [hit.id, i]))),
    [text, found.data],
  );
  const differs = rows.filter((r) => r.differs).length;
  const blocked = rows.filter((r) => r.standing === 'blocked').length;
  const shown = useMemo(() => {
    return rows
      .filter((r) => show === 'all' || (show === 'differs' ? r.differs : r.standing === 'blocked'))
      .filter((r) => app === '' || r.app === app)
      .filter((r) => hits === undefined || hits.has(r.key))
      .sort(
        (a, b) =>
          (hits ? (hits.get(a.key) ?? 0) - (hits.get(b.key) ?? 0) : 0) ||
          (apps.get(a.app ?? '') ?? '').localeCompare(apps.get(b.app ?? '') ?? '') ||
          a.title.localeCompare(b.title),
      );
  }, [rows, show, app, hits, apps]);
  const filtered = show !== 'all' || app !== '' || text !== '';
  const clear = () => {
    const params = new URLSearchParams(search);
    for (const name of ['show', 'app', 'filter']) params.delete(name);
    void navigate(`?${params.toString().replaceAll('%3A', ':')}`, { replace: true });
  };
  return (
    <>
      <div className="no-print space-y-1.5 px-4 pb-2">
        <div role="group" aria-label="Show" className="flex gap-3 text-[13px]">
          {(
            [
              ['all', `All ${rows.length}`],
              ['differs', `Differs from the unit ${differs}`],
              ['blocked', `Blocked ${blocked}`],
            ] as const
          ).map(([which, label]) => (
            <button
              key={which}
              aria-pressed={show === which}
              className={clsx(
                'whitespace-nowrap',
                show === which ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
              )}
              onClick={() => setShow(which)}
            >
              {label}
            </button>
          ))}
        </div>
        <div className="flex gap-2">
          <input
            className="field flex-1"
            aria-label="Filter the settings"
            placeholder="Filter"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && clear()}
          />
          <AppSelect className="w-[112px]" value={app} onChange={setApp} />
        </div>
        {filtered && (
          <p className="text-ink2 text-[13px]">
            {count(shown.length, 'setting')} shown of {rows.length}.{' '}
            <button className="quiet" onClick={clear}>
              Show all
            </button>
          </p>
        )}
      </div>
      <Rows rows={shown} apps={apps} grouped={app === '' && hits === undefined} question={question} ask={ask} />
    </>
  );
}

type Line = { app: string } | { row: AccountSetting };

function Rows(props: {
  rows: AccountSetting[];
  apps: Map<string, string>;
  grouped: boolean;
  question: Question;
  ask: (q: Question) => void;
}) {
  const { rows, apps, grouped, question, ask } = props;
  const box = useRef<HTMLDivElement>(null);
  const lines = useMemo(() => {
    const out: Line[] = [];
    rows.forEach((row, i) => {
      if (grouped && row.app !== rows[i - 1]?.app) out.push({ app: apps.get(row.app ?? '') ?? 'Other' });
      out.push({ row });
    });
    return out;
  }, [rows, apps, grouped]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const chosen = lines.findIndex((l) => 'row' in l && l.row.key === question.what?.id);
  useEffect(() => {
    const top = box.current?.scrollTop ?? 0;
    const seen = chosen * ROW >= top && (chosen + 1) * ROW <= top + (box.current?.clientHeight ?? 0);
    if (chosen >= 0 && !seen) virtual.scrollToIndex(Math.max(0, chosen - 7), { align: 'start' });
    // Only when another setting is asked about, not while one scrolls.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [question.what?.id, lines]);
  const step = (by: number) => {
    for (let i = chosen + by; i >= 0 && i < lines.length; i += by) {
      const line = lines[i];
      if (line && 'row' in line) return ask({ ...question, what: { id: line.row.key } });
    }
  };
  if (rows.length === 0) return <p className="text-ink2 px-4 py-2">None of the settings fits these filters.</p>;
  return (
    <div
      ref={box}
      role="listbox"
      aria-label="Settings"
      tabIndex={0}
      aria-activedescendant={chosen >= 0 ? `setting-${chosen}` : undefined}
      className="border-line no-print min-h-0 flex-1 overflow-y-auto border-t focus-visible:outline-offset-[-2px]"
      onKeyDown={(e) => {
        if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
        e.preventDefault();
        step(e.key === 'ArrowDown' ? 1 : -1);
      }}
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="presentation">
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          if (!line) return null;
          const place = {
            position: 'absolute' as const,
            top: 0,
            left: 0,
            right: 0,
            height: ROW,
            transform: `translateY(${item.start}px)`,
          };
          if ('app' in line)
            return (
              <div
                key={item.key}
                style={place}
                role="presentation"
                className="text-ink2 flex items-end px-4 pb-0.5 text-[12.5px] font-semibold"
              >
                {line.app}
              </div>
            );
          const { row } = line;
          const here = item.index === chosen;
          return (
            // The list above takes the keys for all of its options.
            // eslint-disable-next-line jsx-a11y/click-events-have-key-events
            <div
              key={item.key}
              id={`setting-${item.index}`}
              role="option"
              aria-selected={here}
              tabIndex={-1}
              style={place}
              title={row.usual ? `Most of the unit have ${row.usual}` : undefined}
              className={clsx(
                'border-line flex cursor-pointer items-center gap-2 border-b pr-3 pl-4',
                here ? 'bg-sheet shadow-[inset_4px_0_0_var(--decide)]' : 'hover:bg-sheet/60',
              )}
              onClick={() => ask({ ...question, what: { id: row.key } })}
            >
              <span className={clsx('min-w-0 flex-1 truncate', here && 'font-semibold')}>{row.title}</span>
              <span
                className={clsx('max-w-[84px] shrink-0 truncate text-right', (here || row.differs) && 'font-semibold')}
              >
                {row.standing === 'blocked' && <s className="text-ink2 mr-1 font-normal">{row.decided}</s>}
                {row.value}
              </span>
              <RungMark rung={row.rung} />
              <StandingMark standing={row.standing} />
            </div>
          );
        })}
      </div>
    </div>
  );
}
