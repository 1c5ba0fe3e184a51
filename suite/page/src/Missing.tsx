import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { get, post, type OwnRequest, type Value } from './api';
import { usePage } from './page';
import { words } from './words';

/** Something that is not there, and the value of it that somebody would have. */
export type Wish = { key: string; wanted?: Value };

/** Why something is not there, in a sentence, and how to ask for it. */
export function Ask({ wish, onClose }: { wish: Wish; onClose: () => void }) {
  const { view, catalogue } = usePage();
  const cache = useQueryClient();
  const [said, setSaid] = useState('');
  const meant = catalogue.settings.find((s) => s.key === wish.key);
  const reason = useQuery({
    queryKey: ['reason', view.page, wish.key],
    queryFn: () => get<{ words: string }>(`pages/${view.page}/reasons/${encodeURIComponent(wish.key)}`),
  });
  const asking = useMutation({
    mutationFn: () =>
      post<{ requests: OwnRequest[] }>(`pages/${view.page}/requests`, {
        setting: wish.key,
        ...(wish.wanted === undefined ? {} : { wanted: wish.wanted }),
        ...(said ? { words: said } : {}),
      }),
    onSuccess: () => cache.invalidateQueries({ queryKey: ['requests', view.page] }),
  });
  const own = useOwnRequests();
  const before = own.data?.requests.find((r) => r.setting === wish.key && r.state !== 'granted');
  const what = `${meant?.title ?? wish.key}${wish.wanted === undefined ? '' : `: ${words(meant, wish.wanted)}`}`;
  return (
    <section className="sheet mb-4 border-2! border-sea!" aria-label="Why it is not there">
      <h2 className="font-semibold">{what}</h2>
      <p className="my-1">{reason.error?.message ?? reason.data?.words ?? 'Asking why…'}</p>
      {before && !asking.data && <p className="my-1 font-semibold">You asked before. {before.words}</p>}
      {before?.state === 'open' && !asking.data ? (
        <button type="button" className="button" onClick={onClose}>
          Good
        </button>
      ) : asking.data ? (
        <p role="status">It was asked for. What becomes of it stands under “What is coming”.</p>
      ) : (
        <form
          className="flex flex-wrap gap-2"
          aria-label="Ask"
          onSubmit={(e) => {
            e.preventDefault();
            asking.mutate();
          }}
        >
          <input
            className="field min-w-52 flex-1"
            aria-label="What you need it for"
            placeholder={before ? 'What has changed since then' : 'What you need it for, if you like'}
            value={said}
            onChange={(e) => setSaid(e.target.value)}
          />
          <button type="submit" className="button main">
            {before ? 'Ask again' : 'Ask for it'}
          </button>
          <button type="button" className="button" onClick={onClose}>
            Leave it
          </button>
        </form>
      )}
      {asking.data && (
        <button type="button" className="button mt-2" onClick={onClose}>
          Good
        </button>
      )}
      {asking.error && (
        <p role="alert" className="mt-1 text-mark">
          {asking.error.message}
        </p>
      )}
    </section>
  );
}

/** What of an app is not there for the person, for whoever misses something. */
export function Missing({ app }: { app: string }) {
  const { view, catalogue, onMissing } = usePage();
  const missing = catalogue.settings.filter(
    (s) => s.app === app && view.settings.some((seen) => seen.key === s.key && seen.shown === 'absent'),
  );
  if (missing.length === 0) return null;
  return (
    <details className="mt-4 text-sm">
      <summary className="cursor-pointer text-soft">Do you miss something here?</summary>
      <ul className="mt-2 flex flex-wrap gap-2">
        {missing.map((s) => (
          <li key={s.key}>
            <button type="button" className="button" onClick={() => onMissing(s.key)}>
              {s.title}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

function useOwnRequests() {
  const { view } = usePage();
  return useQuery({
    queryKey: ['requests', view.page],
    queryFn: () => get<{ requests: OwnRequest[] }>(`pages/${view.page}/requests`),
    refetchInterval: 3000,
  });
}

/** What the person asked for, and what became of it. */
export function OwnRequests() {
  const requests = useOwnRequests();
  if (!requests.data || requests.data.requests.length === 0) return null;
  return (
    <section className="sheet" aria-label="What you asked for">
      <h2 className="font-semibold">What you asked for</h2>
      <ul className="mt-2 grid gap-2">
        {requests.data.requests.map((r) => (
          <li key={r.id}>
            <strong className="font-semibold">{r.title}</strong>. {r.words}
          </li>
        ))}
      </ul>
    </section>
  );
}
