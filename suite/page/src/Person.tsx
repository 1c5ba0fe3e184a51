import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { useCallback, useEffect, useMemo, useState } from 'react';
import {
  get,
  post,
  type Catalogue,
  type Coming as Arriving,
  type Deed,
  type PageView,
  type Person as Who,
  type Value,
} from './api';

import { APPS } from './apps';
import { Coming } from './apps/Coming';
import { go, type Here } from './here';
import { Ask, Missing, type Wish } from './Missing';
import { PageContext, Rest, usePage } from './page';
import { moment, text as asText, words } from './words';

const COMING = 'coming';
const RING = 'preview.ring';
const DEEDS: Record<Deed, string> = {
  refresh: 'Refresh',
  'sign-in': 'Sign in again',
  restart: 'Restart',
  update: 'Update the program',
  clear: 'Clear stored data',
};
const DEED_AS_NOUN: Record<Deed, string> = {
  refresh: 'a refresh',
  'sign-in': 'a new sign-in',
  restart: 'a restart',
  update: 'an update of the program',
  clear: 'clearing what the app has stored',
};
const LABORIOUS_FIRST: Deed[] = ['clear', 'update', 'restart', 'sign-in', 'refresh'];
const FORWARD = [
  { minutes: 15, title: '15 minutes' },
  { minutes: 60, title: 'an hour' },
  { minutes: 240, title: 'four hours' },
  { minutes: 1440, title: 'a day' },
];

/** The page of one person, from the moment at which somebody steps in. */
export function Person({ here }: { here: Here }) {
  const cache = useQueryClient();
  const [page, setPage] = useState('');
  const [wish, setWish] = useState<Wish>();
  const onMissing = useCallback(
    (key: string, wanted?: Value) => {
      // Beside Lean Ladder the question is an administrator's, and leads to the ladder.
      if (here.beside) window.parent.postMessage({ kind: 'suite-ask', key }, '*');
      else setWish(wanted === undefined ? { key } : { key, wanted });
    },
    [here.beside],
  );
  const opening = useMutation({
    mutationFn: (sent: object) => post<PageView>('pages', sent),
    onSuccess: (view) => {
      cache.setQueryData(['page', view.page], view);
      setPage(view.page);
    },
  });
  const { mutate } = opening;
  useEffect(() => {
    const entry = performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming | undefined;
    const again = entry?.type === 'reload' && !here.beside;
    mutate({
      account: here.as,
      ...(here.at ? { at: here.at } : {}),
      deeds: here.deed ? [here.deed] : again ? ['refresh'] : [],
    });
  }, [mutate, here.as, here.at, here.deed, here.beside]);
  const person = useQuery({
    queryKey: ['person', here.as],
    queryFn: () => get<Who>(`people/${encodeURIComponent(here.as)}`),
  });
  const catalogue = useQuery({ queryKey: ['catalogue'], queryFn: () => get<Catalogue>('catalogue') });
  const view = useQuery({
    queryKey: ['page', page],
    queryFn: () => get<PageView>(`pages/${page}`),
    enabled: page !== '',
    refetchInterval: 2000,
  });
  const named = peopleIn(view.data, catalogue.data);
  const names = useQuery({
    queryKey: ['names', named],
    queryFn: () => get<Record<string, string>>(`names?of=${encodeURIComponent(named)}`),
    enabled: named !== '',
    placeholderData: (before) => before,
  });
  const trouble = person.error ?? catalogue.error ?? opening.error;
  if (trouble)
    return (
      <main className="mx-auto mt-[12vh] max-w-xl px-4">
        <p role="alert">{trouble.message}</p>
        <button type="button" className="button mt-3" onClick={() => go({ as: '' })}>
          Step in as somebody else
        </button>
      </main>
    );
  if (!person.data || !catalogue.data || !view.data)
    return <p className="mt-[20vh] text-center text-soft">Signing in…</p>;
  return (
    <PageContext
      value={{
        person: person.data,
        view: view.data,
        catalogue: catalogue.data,
        names: names.data ?? {},
        beside: here.beside,
        onMissing,
      }}
    >
      <Frame here={here} away={view.error?.message} wish={wish} onWish={setWish} />
    </PageContext>
  );
}

/** The units, groups and people that stand in the values of a page, as targets, each once, separated by commas. */
function peopleIn(view: PageView | undefined, catalogue: Catalogue | undefined): string {
  const of = new Set(catalogue?.settings.filter((s) => s.type === 'people').map((s) => s.key));
  const targets = view?.settings.filter((s) => of.has(s.key)).flatMap((s) => (Array.isArray(s.value) ? s.value : []));
  return [...new Set(targets)].sort().join();
}

function Frame({
  here,
  away,
  wish,
  onWish,
}: {
  here: Here;
  away: string | undefined;
  wish: Wish | undefined;
  onWish: (wish: Wish | undefined) => void;
}) {
  const { person, view, catalogue, beside } = usePage();
  const cache = useQueryClient();
  const [signingIn, setSigningIn] = useState(false);
  const apps = useMemo(() => inOrder(catalogue.apps), [catalogue.apps]);
  const known = here.app === COMING || apps.some((a) => a.id === here.app);
  const app = known ? here.app : (apps[0]?.id ?? COMING);
  useEffect(() => {
    document.title = `${person.name} — simulated suite`;
  }, [person.name]);
  useTold(app);
  const show = (after: PageView) => cache.setQueryData(['page', view.page], after);
  const doing = useMutation({
    mutationFn: (deed: Deed) => post<PageView>(`pages/${view.page}/deeds`, { deed }),
    onSuccess: show,
  });
  const forward = useMutation({
    mutationFn: (minutes: number) =>
      post<PageView>(`pages/${view.page}/clock`, {
        at: new Date(new Date(view.clock).getTime() + minutes * 60_000).toISOString(),
      }),
    onSuccess: show,
  });
  const waits = useMemo(
    () => LABORIOUS_FIRST.find((d) => view.settings.some((s) => s.waitsFor === d)),
    [view.settings],
  );
  if (signingIn)
    return (
      <SignIn
        onDone={() => {
          doing.mutate('sign-in');
          setSigningIn(false);
        }}
      />
    );
  const Shown = app === COMING ? Coming : APPS[app];
  const names = [...apps, { id: COMING, name: 'What is coming' }];
  return (
    <div className={clsx('mx-auto grid max-w-6xl gap-x-6 px-4 pb-10', beside ? 'text-sm' : 'md:grid-cols-[11rem_1fr]')}>
      <header className="col-span-full flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2">
        <p className="mr-auto">
          <span className="font-semibold text-mark">Simulated suite</span>{' '}
          <strong className="font-semibold">{person.name}</strong>{' '}
          <small className="text-soft">{[person.title, person.unit].filter(Boolean).join(', ')}</small>
        </p>
        <p aria-live="polite" className={clsx('tabular-nums', view.ahead && 'font-semibold text-mark')}>
          {view.ahead && 'set forward to '}
          {moment(view.clock)}
        </p>
        <div className="flex flex-wrap gap-1">
          <select
            className="field py-0"
            aria-label="Set this page’s clock forward"
            value=""
            onChange={(e) => forward.mutate(Number(e.target.value))}
          >
            <option value="">Set forward…</option>
            {FORWARD.map((f) => (
              <option key={f.minutes} value={f.minutes}>
                by {f.title}
              </option>
            ))}
          </select>
          {(Object.keys(DEEDS) as Deed[]).map((deed) => (
            <button
              key={deed}
              type="button"
              className="button"
              title={`Last on ${moment(view.done[deed])}`}
              aria-busy={doing.isPending && doing.variables === deed}
              onClick={() => (deed === 'sign-in' ? setSigningIn(true) : doing.mutate(deed))}
            >
              {DEEDS[deed]}
            </button>
          ))}
          {!beside && (
            <button type="button" className="button" onClick={() => go({ as: '', at: '', deed: '' })}>
              Somebody else
            </button>
          )}
        </div>
        {waits && (
          <p role="status" className="w-full rounded-lg bg-mark-soft px-3 py-1 text-mark">
            Something new has arrived; it shows after {DEED_AS_NOUN[waits]}.
          </p>
        )}
        {(away ?? forward.error?.message ?? doing.error?.message) && (
          <p role="alert" className="w-full text-mark">
            {away ?? forward.error?.message ?? doing.error?.message}
          </p>
        )}
        <Preview />
      </header>
      <nav aria-label="Apps" className="py-2">
        {beside && (
          <select
            className="field py-0 font-semibold"
            aria-label="App"
            value={app}
            onChange={(e) => go({ app: e.target.value })}
          >
            {names.map((a) => (
              <option key={a.id} value={a.id}>
                {a.name}
              </option>
            ))}
          </select>
        )}
        <ul className={clsx('flex-wrap gap-1', beside ? 'hidden' : 'flex md:grid')}>
          {names.map((a) => (
            <li key={a.id}>
              <button
                type="button"
                aria-current={a.id === app ? 'page' : undefined}
                className="w-full rounded-lg px-3 py-1 text-left hover:bg-foam aria-[current]:bg-foam aria-[current]:font-semibold"
                onClick={() => {
                  onWish(undefined);
                  go({ app: a.id });
                }}
              >
                {a.name}
              </button>
            </li>
          ))}
        </ul>
      </nav>
      <main className={clsx('min-w-0', beside ? '' : 'py-3')} data-app={app}>
        <h1 className={beside ? 'sr-only' : 'mb-3 text-xl font-semibold'}>{names.find((a) => a.id === app)?.name}</h1>
        {wish && (
          <Ask key={`${wish.key} ${JSON.stringify(wish.wanted)}`} wish={wish} onClose={() => onWish(undefined)} />
        )}
        {Shown ? <Shown /> : <Rest app={app} spoken={[]} />}
        {!beside && <Missing app={app} />}
      </main>
    </div>
  );
}

/** That one tries previews is said while one does. */
function Preview() {
  const { view } = usePage();
  const coming = useQuery({
    queryKey: ['coming', view.page],
    queryFn: () => get<Arriving>(`pages/${view.page}/coming`),
    refetchInterval: 3000,
  });
  const tried = coming.data?.rings.filter((r) => r.consented) ?? [];
  const alone = coming.data?.releases.some((r) => r.alone) ?? false;
  if (tried.length === 0 && !alone) return null;
  return (
    <p className="w-full text-sm text-soft">
      You try previews{tried.length > 0 ? ` (${tried.map((r) => r.name).join(', ')})` : ''}: some of what you see is
      unfinished.
    </p>
  );
}

/** Those that a page speaks of in its own words, in the order of these pages, then all others. */
function inOrder(apps: Catalogue['apps']) {
  const place = (id: string) => (id in APPS ? Object.keys(APPS).indexOf(id) : Infinity);
  return [...apps].sort((a, b) => (place(a.id) === place(b.id) ? 0 : place(a.id) - place(b.id)));
}

function SignIn({ onDone }: { onDone: () => void }) {
  const { person, view } = usePage();
  const text = view.settings.find((s) => s.key === 'directory.sign-in-text');
  const picture = view.settings.find((s) => s.key === 'directory.sign-in-picture');
  return (
    <main className="mx-auto mt-[16vh] max-w-md px-4 text-center">
      <p className="font-semibold text-mark">Simulated suite</p>
      {picture?.shown === 'there' && <Shown value={picture.value} />}
      {text?.shown === 'there' && <p className="my-4 text-lg">{asText(text.value)}</p>}
      <button type="button" className="button main" onClick={onDone}>
        Sign in as {person.name}
      </button>
    </main>
  );
}

function Shown({ value }: { value: Value }) {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
  return <img className="mx-auto my-4 max-h-32" src={`/api/pictures/${value.sha256}`} alt={value.alt} />;
}

/** Tells the page around this one, where there is one, what stands here and how. */
function useTold(app: string) {
  const { view, catalogue, names } = usePage();
  useEffect(() => {
    if (window.parent === window) return;
    const controls = catalogue.settings.flatMap((meant) => {
      const seen = view.settings.find((s) => s.key === meant.key);
      const on = meant.key === RING ? COMING : (meant.app ?? '');
      return seen
        ? [{ key: meant.key, title: meant.title, app: on, shown: seen.shown, words: words(meant, seen.value, names) }]
        : [];
    });
    window.parent.postMessage({ kind: 'suite-page', account: view.account, app, controls }, '*');
  }, [app, view.account, view.settings, catalogue.settings, names]);
}
