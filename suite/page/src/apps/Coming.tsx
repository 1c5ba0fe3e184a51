import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { get, post, Trouble, type Coming as Arriving, type OwnRelease, type OwnRing, type Terms } from '../api';
import { OwnRequests } from '../Missing';
import { Fact, Place, useControl, usePage } from '../page';
import { day, listed } from '../words';

/** What is coming to the person, in plain words, with the person's own word on it. */
export function Coming() {
  const { view } = usePage();
  const cache = useQueryClient();
  const [trouble, setTrouble] = useState('');
  const ring = useControl('preview.ring');
  const coming = useQuery({
    queryKey: ['coming', view.page],
    queryFn: () => get<Arriving>(`pages/${view.page}/coming`),
    refetchInterval: 3000,
  });
  const say = async (word: string, about: object) => {
    try {
      cache.setQueryData(['coming', view.page], await post<Arriving>(`pages/${view.page}/words/${word}`, about));
      setTrouble('');
    } catch (e) {
      setTrouble(e instanceof Trouble ? e.message : String(e));
    }
  };
  if (!coming.data) return <p className="text-soft">Asking what is coming…</p>;
  const mine = coming.data.rings.find((r) => r.track === null);
  const waiting = coming.data.releases.filter((r) => r.state === 'asks');
  const here = coming.data.releases.filter((r) => r.state === 'come' && r.preview);
  const later = coming.data.releases.filter((r) => r.state === 'coming');
  return (
    <div className="grid gap-4">
      {coming.data.rings
        .filter((r) => r.asksConsent)
        .map((r) => (
          <Ring key={r.id} ring={r} say={say} />
        ))}
      {trouble && (
        <p role="alert" className="text-mark">
          {trouble}
        </p>
      )}
      {ring && (
        <p className="text-sm text-soft">
          <Place control={ring}>
            <span>
              What is new comes to you with the ring “{mine?.name ?? ring.inWords}”.
              <span className="sr-only"> ({ring.inWords})</span>
            </span>
          </Place>
        </p>
      )}
      <List title="Waiting for your word" releases={waiting} say={say} />
      <List title="Here, as a preview" releases={here} say={say} />
      <List title="On its way" releases={later} say={say} />
      {waiting.length + here.length + later.length === 0 && (
        <p className="text-soft">Nothing new is on its way to you. When something is, it stands here first.</p>
      )}
      <OwnRequests />
      <Fact k="devices.track">{(v) => <>New versions reach your devices at a {v} pace.</>}</Fact>
    </div>
  );
}

type Say = (word: string, about: object) => Promise<void>;

/** A ring that asks for the person's word: what it is, what one agrees to, and how to join and to leave. */
function Ring({ ring, say }: { ring: OwnRing; say: Say }) {
  return (
    <section className="sheet" aria-label={ring.track ? `Previews: ${ring.track}` : 'Previews'}>
      <h2 className="font-semibold">
        {ring.consented ? `You try previews: ${ring.name}` : `You may try previews: ${ring.name}`}
        {ring.track && <span className="font-normal text-soft"> ({ring.track})</span>}
      </h2>
      <p className="my-2">
        A preview is unfinished. It may change, fail, or be taken back, and nobody can promise when it is done. You can
        leave at any time.
      </p>
      {ring.consented ? (
        <>
          <p className="text-soft">You joined on {day(ring.consented)}.</p>
          <button type="button" className="button mt-2" onClick={() => void say('withdrawals', { ring: ring.id })}>
            Leave
          </button>
        </>
      ) : (
        <>
          {ring.asked && !ring.declined && <p>You were asked to join on {day(ring.asked)}.</p>}
          {ring.declined && <p className="text-soft">You said no on {day(ring.declined)}.</p>}
          <Agreement
            terms={ring.terms}
            act="Join"
            onAgree={(terms) => void say('consents', { ring: ring.id, ...terms })}
          >
            {ring.asked && !ring.declined && (
              <button type="button" className="button" onClick={() => void say('refusals', { ring: ring.id })}>
                No, thank you
              </button>
            )}
          </Agreement>
        </>
      )}
    </section>
  );
}

/** The terms, where there are any, to be read before the button counts; it carries the version that was read. */
function Agreement({
  terms,
  act,
  onAgree,
  children,
}: {
  terms: Terms | null;
  act: string;
  onAgree: (terms: { terms?: number }) => void;
  children?: ReactNode;
}) {
  const [read, setRead] = useState(false);
  return (
    <div className="mt-2 grid gap-2">
      {terms && (
        <>
          <textarea
            readOnly
            aria-label="Terms"
            className="field w-full"
            rows={Math.min(10, terms.text.split('\n').length + 2)}
            value={terms.text}
          />
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={read} onChange={(e) => setRead(e.target.checked)} />I have read these terms
            (version {terms.version}) and agree.
          </label>
        </>
      )}
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="button main"
          disabled={terms !== null && !read}
          onClick={() => onAgree(terms ? { terms: terms.version } : {})}
        >
          {act}
        </button>
        {children}
      </div>
    </div>
  );
}

function List({ title, releases, say }: { title: string; releases: OwnRelease[]; say: Say }) {
  if (releases.length === 0) return null;
  return (
    <section className="sheet" aria-label={title}>
      <h2 className="font-semibold">{title}</h2>
      <ul className="mt-2 grid gap-3">
        {releases.map((r) => (
          <Release key={r.setting} release={r} say={say} />
        ))}
      </ul>
    </section>
  );
}

function Release({ release, say }: { release: OwnRelease; say: Say }) {
  return (
    <li>
      <strong className="font-semibold">{release.title}</strong>{' '}
      <span className="text-soft">
        {release.app}
        {release.at &&
          `${release.app ? ', ' : ''}${release.state === 'come' ? 'since' : release.planned ? 'planned for' : 'from'} ${day(release.at)}`}
        {release.devices.length > 0 && `, for ${listed(release.devices)}`}
      </span>
      {release.note && <p>{release.note}</p>}
      {release.guide && (
        <p>
          <a className="text-sea underline" href={release.guide} rel="noreferrer">
            How to use it
          </a>
        </p>
      )}
      <div className="mt-1 flex flex-wrap gap-2">
        {release.state === 'asks' && release.oneByOne && (
          <Agreement
            terms={release.terms}
            act="Take only this"
            onAgree={(terms) => void say('consents', { release: release.setting, ...terms })}
          />
        )}
        {release.alone && (
          <button
            type="button"
            className="button"
            onClick={() => void say('withdrawals', { release: release.setting })}
          >
            Give this back
          </button>
        )}
      </div>
      {release.state === 'come' && <Found release={release} say={say} />}
    </li>
  );
}

const VERDICTS = [
  { verdict: 'works', title: 'It works' },
  { verdict: 'fails', title: 'It does not work' },
  { verdict: 'idea', title: 'I have an idea' },
];

/** What the person found of it. */
function Found({ release, say }: { release: OwnRelease; say: Say }) {
  const [verdict, setVerdict] = useState('');
  const [text, setText] = useState('');
  const [sent, setSent] = useState(false);
  if (sent) return <p role="status">Thank you; it was sent.</p>;
  return (
    <form
      className="mt-1 flex flex-wrap gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void say('feedback', { release: release.setting, verdict, ...(text ? { text } : {}) }).then(() =>
          setSent(true),
        );
      }}
    >
      {VERDICTS.map((v) => (
        <button
          key={v.verdict}
          type="button"
          className="button"
          aria-pressed={verdict === v.verdict}
          onClick={() => setVerdict(v.verdict)}
        >
          {v.title}
        </button>
      ))}
      {verdict && (
        <>
          <input
            className="field min-w-52 flex-1 py-0"
            aria-label={`What you found of ${release.title}`}
            placeholder="In a sentence"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <button type="submit" className="button main">
            Send
          </button>
        </>
      )}
    </form>
  );
}
