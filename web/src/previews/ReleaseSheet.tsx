import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import type { Edit } from '../api/client';
import { DateField } from '../parts/DateField';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { now } from '../text/clock';
import { day, formatInstant } from '../text/dates';
import { capital, count, formatNumber, joinList } from '../text/words';
import { Feedback } from './Feedback';
import { useRelease, type ReleaseLine, type RingLine } from './queries';
import { Alert } from '../parts/Alert';
import { Sheet } from '../parts/Sheet';

type OnEdit = (edits: Edit[]) => Promise<boolean>;

/** One release: ring by ring when it opens and how many have it, who has it early, and what is told of it. */
export function ReleaseSheet(props: {
  setting: string;
  rings: RingLine[];
  zone: string;
  /** The instant that is asked about. */
  now: number;
  onEdit: OnEdit;
  onClose: () => void;
}) {
  const { setting, zone, onEdit } = props;
  const [question] = useQuestion();
  const found = useRelease(setting, question);
  const release = found.data?.release;
  const amend = (members: Record<string, unknown>) =>
    void onEdit([{ kind: 'amend-release', release: setting, members }]);
  return (
    <Sheet
      label="The release"
      onClose={props.onClose}
      head={
        <>
          <span className="text-ink2 text-[13px]">{release?.app}</span>
          <span className="ml-auto" />
          {release && (
            <button
              className="button"
              onClick={() =>
                void onEdit([{ kind: 'remove-release', release: setting }]).then((done) => done && props.onClose())
              }
            >
              Delete it
            </button>
          )}
        </>
      }
    >
      {found.isError && !found.data ? (
        <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />
      ) : !release ? (
        <p className="text-ink2">Looking…</p>
      ) : (
        <>
          <h2 className="font-display text-[19px] font-semibold">{release.title}</h2>
          <p>
            <strong className="font-semibold">{capital(standingWords(release))}.</strong>{' '}
            <Link
              className="quiet"
              to={`/ladder${writeQuestion({ ...question, who: question.who ?? EVERYONE, what: { id: setting } })}`}
            >
              On the ladder
            </Link>
          </p>
          {typeof found.data?.tried === 'number' && (
            <p>
              {found.data.tried === 0
                ? 'Nobody to whom it has come used it in the last 30 days.'
                : `${count(found.data.tried, 'account')} used it in the last 30 days.`}
            </p>
          )}
          {found.data && found.data.needs.length > 0 && (
            <p className="text-ink2 text-[13px]">Needs besides: {joinList(found.data.needs)}.</p>
          )}
          {found.data?.families.map((family) => (
            <p key={family.family} className="text-ink2 text-[13px]">
              {family.name} is set together:{' '}
              {family.settings.map((s, i) => (
                <Fragment key={s.id}>
                  {i > 0 && ', '}
                  {s.id === setting ? (
                    s.name
                  ) : (
                    <Link
                      className="quiet"
                      to={`/ladder${writeQuestion({ ...question, who: question.who ?? EVERYONE, what: { id: s.id } })}`}
                    >
                      {s.name}
                    </Link>
                  )}
                </Fragment>
              ))}
              .
            </p>
          ))}
          <h3 className="font-display mt-5 text-[16px] font-semibold">Ring by ring</h3>
          <ul className="border-line mt-1 border-t" aria-label="Ring by ring">
            {props.rings.map((ring) => (
              <OpeningRow
                key={ring.id}
                release={release}
                ring={ring}
                counts={found.data?.rings.find((r) => r.ring === ring.id)}
                zone={zone}
                now={props.now}
                onEdit={onEdit}
              />
            ))}
          </ul>
          <Hold release={release} onEdit={onEdit} />
          <h3 className="font-display mt-5 text-[16px] font-semibold">Early, without the rest of the ring</h3>
          {release.early.length === 0 && <p className="text-ink2">To nobody.</p>}
          <ul>
            {release.early.map((e) => (
              <li key={e.to} className="border-line flex items-center gap-2 border-b py-1">
                <span className="min-w-0 flex-1">
                  <strong className="font-semibold">{e.words}</strong>{' '}
                  <span className="text-ink2">from {formatInstant(e.from, zone)}</span>
                </span>
                <button
                  className="quiet text-[13px]"
                  onClick={() => void onEdit([{ kind: 'open-early', release: setting, to: e.to, from: null }])}
                >
                  No longer
                </button>
              </li>
            ))}
          </ul>
          <OpenEarly setting={setting} zone={zone} onEdit={onEdit} />
          <label className="mt-3 flex items-center gap-2">
            <input
              type="checkbox"
              checked={release.oneByOne}
              onChange={(e) => amend({ oneByOne: e.target.checked || null })}
            />
            People may take it alone, without the rest of their ring
          </label>
          {release.alone > 0 && (
            <p className="text-ink2 text-[13px]">
              {count(release.alone, 'account')} {release.alone === 1 ? 'has' : 'have'} taken it alone; the others
              consented to their ring.
            </p>
          )}
          <Told
            key={[release.note, release.guide, release.devices, release.atLeast, release.feedbackUntil].join()}
            release={release}
            onAmend={amend}
          />
          <Feedback release={release} zone={zone} onEdit={onEdit} />
        </>
      )}
    </Sheet>
  );
}

/** To how many it has come, and what keeps it from others, as one sentence. */
export function standingWords(release: Pick<ReleaseLine, 'has' | 'off' | 'unconsented' | 'kept'>): string {
  const rest = [
    release.off === 0
      ? ''
      : release.off === release.has
        ? 'no policy turns it on for them'
        : `no policy turns it on for ${formatNumber(release.off)} of them`,
    release.unconsented > 0 ? `${formatNumber(release.unconsented)} may and have not consented` : '',
    release.kept > 0 ? `another gate keeps it from ${formatNumber(release.kept)}` : '',
  ].filter(Boolean);
  return [`it has come to ${release.has === 0 ? 'nobody yet' : count(release.has, 'account')}`, ...rest].join('; ');
}

function OpeningRow(props: {
  release: ReleaseLine;
  ring: RingLine;
  counts?: { has: number; off: number; unconsented: number; kept: number };
  zone: string;
  /** The instant that is asked about. */
  now: number;
  onEdit: OnEdit;
}) {
  const { release, ring, zone, counts } = props;
  const opening = release.openings.find((o) => o.ring === ring.id);
  const [from, setFrom] = useState<string>();
  const [asking, setAsking] = useState(false);
  const set = (at: string | null) => {
    setAsking(false);
    void props.onEdit([{ kind: 'open-release', release: release.setting, ring: ring.id, from: at }]);
  };
  const plan = (at: string) => {
    setAsking(false);
    const planned: Record<string, string> = { [ring.id]: at };
    for (const o of release.openings) if (o.planned && o.ring !== ring.id) planned[o.ring] = o.at;
    const edits: Edit[] = [{ kind: 'amend-release', release: release.setting, members: { planned } }];
    if (opening && !opening.planned)
      edits.unshift({ kind: 'open-release', release: release.setting, ring: ring.id, from: null });
    void props.onEdit(edits);
  };
  const open = opening && !opening.planned && Date.parse(opening.at) <= props.now;
  return (
    <li className="border-line border-b py-1.5">
      <div className="flex items-baseline gap-3">
        <strong className="w-28 shrink-0 truncate font-semibold" title={ring.name}>
          {ring.name}
        </strong>
        <span className="min-w-0 flex-1">
          {!opening
            ? 'not open'
            : opening.planned
              ? `planned for ${formatInstant(opening.at, zone)}`
              : `${open ? 'open since' : 'opens'} ${formatInstant(opening.at, zone)}`}
        </span>
      </div>
      <div className="mt-0.5 flex flex-wrap items-start gap-x-4 gap-y-1 pl-31 text-[13px]">
        {!open && (
          <button className="quiet" aria-label={`Open ${release.title} to ${ring.name} now`} onClick={() => set(now())}>
            Open it now
          </button>
        )}
        <button className="quiet" aria-expanded={asking} onClick={() => setAsking(!asking)}>
          {opening ? 'Another day' : 'From a day on'}
        </button>
        {opening && !opening.planned && (
          <button
            className="quiet"
            aria-label={`Withdraw ${release.title} from ${ring.name}`}
            onClick={() => set(null)}
          >
            Withdraw
          </button>
        )}
        {counts && counts.has + counts.unconsented + counts.kept > 0 && (
          <span className="text-ink2 ml-auto">
            {formatNumber(counts.has - counts.off)} {counts.has - counts.off === 1 ? 'has' : 'have'} it
            {counts.off > 0 && `, turned off for ${formatNumber(counts.off)}`}
            {counts.unconsented + counts.kept > 0 && `, ${formatNumber(counts.unconsented + counts.kept)} could`}
          </span>
        )}
      </div>
      {asking && (
        <div className="mt-1 flex flex-wrap items-start gap-2 pl-31">
          <DateField label={`Opens to ${ring.name}`} zone={zone} of="instant" value={from} onChange={setFrom} />
          <button className="button" onClick={() => from && set(from)}>
            Set
          </button>
          <button className="button" onClick={() => from && plan(from)}>
            Only plan it
          </button>
        </div>
      )}
    </li>
  );
}

/** Opens a release to a unit, a group or a person: now, or from the instant that stands beside. */
function OpenEarly({ setting, zone, onEdit }: { setting: string; zone: string; onEdit: OnEdit }) {
  const [from, setFrom] = useState<string>();
  return (
    <div className="mt-1 space-y-1">
      <EntityPicker
        label="Open it early"
        placeholder={`Open it ${from ? 'then' : 'now'} to a unit, a group or a person`}
        kinds="unit,group,account"
        refuse={(hit) => (hit.context === 'mailing group' ? 'A mailing group cannot be aimed at' : undefined)}
        onPick={(hit) =>
          void onEdit([
            {
              kind: 'open-early',
              release: setting,
              to: `${hit.kind}:${hit.id}`,
              from: from ?? now(),
            },
          ])
        }
      />
      <div className="flex flex-wrap items-start gap-2">
        <span className="leading-8">from</span>
        <DateField label="Early from" zone={zone} of="instant" value={from} onChange={setFrom} />
      </div>
    </div>
  );
}

function Hold({ release, onEdit }: { release: ReleaseLine; onEdit: OnEdit }) {
  const [reason, setReason] = useState('');
  if (release.held !== null)
    return (
      <p className="mt-3 flex items-center gap-3">
        <span className="min-w-0 flex-1">
          <strong className="text-shut font-semibold">Held:</strong> {release.held}
        </span>
        <button className="button" onClick={() => void onEdit([{ kind: 'resume-release', release: release.setting }])}>
          Resume
        </button>
      </p>
    );
  return (
    <form
      className="mt-3 flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void onEdit([{ kind: 'pause-release', release: release.setting, reason, since: now() }]).then(
          (done) => done && setReason(''),
        );
      }}
    >
      <input
        className="field min-w-0 flex-1"
        aria-label="Why it is held"
        placeholder="Hold it: why?"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
      />
      <button className="button" disabled={reason.trim() === ''}>
        Hold
      </button>
    </form>
  );
}

/** What is told of a release, typed over. */
function Told(props: { release: ReleaseLine; onAmend: (members: Record<string, unknown>) => void }) {
  const { release } = props;
  const [note, setNote] = useState(release.note ?? '');
  const [guide, setGuide] = useState(release.guide ?? '');
  const [devices, setDevices] = useState(release.devices.join(', '));
  const [until, setUntil] = useState<string>();
  const [atLeast, setAtLeast] = useState(String(release.atLeast));
  const isCount = /^[1-9]\d{0,3}$/.test(atLeast.trim());
  return (
    <div className="mt-4 space-y-2">
      <label className="block">
        Note
        <textarea
          className="field mt-1 h-auto w-full py-1"
          rows={2}
          value={note}
          onChange={(e) => setNote(e.target.value)}
          onBlur={() => note !== (release.note ?? '') && props.onAmend({ note: note || null })}
        />
      </label>
      <ByDevice
        title="Notes by kind of device"
        what="Note"
        texts={release.notes}
        onChange={(notes) => props.onAmend({ notes })}
      />
      <ByDevice
        title="Works from version, by kind of device"
        what="Version"
        texts={release.versions}
        onChange={(versions) => props.onAmend({ versions })}
      />
      <label className="block">
        Guide
        <input
          className="field mt-1 w-full"
          placeholder="https://…"
          value={guide}
          onChange={(e) => setGuide(e.target.value)}
          onBlur={() => guide !== (release.guide ?? '') && props.onAmend({ guide: guide || null })}
        />
      </label>
      <div className="flex gap-3">
        <label className="min-w-0 flex-1">
          Devices
          <input
            className="field mt-1 w-full"
            placeholder="any; or tablet, desk"
            value={devices}
            onChange={(e) => setDevices(e.target.value)}
            onBlur={() => {
              const list = devices
                .split(',')
                .map((d) => d.trim())
                .filter(Boolean);
              if (list.join() !== release.devices.join()) props.onAmend({ devices: list.length > 0 ? list : null });
            }}
          />
        </label>
        <label className="w-28">
          Takes at least
          <input
            className="field mt-1 w-full text-right"
            inputMode="numeric"
            aria-invalid={!isCount}
            value={atLeast}
            onChange={(e) => setAtLeast(e.target.value)}
            onBlur={() => {
              const n = Number(atLeast);
              if (isCount && n !== release.atLeast) props.onAmend({ atLeast: n > 1 ? n : null });
            }}
          />
        </label>
      </div>
      {!isCount && <Alert>How many people it takes at least is a whole number from 1 to 9,999.</Alert>}
      <div className="space-y-2">
        <div>
          <span className="mb-1 flex gap-3">
            <span className="min-w-0 flex-1">Looked after by {release.owner ?? 'nobody'}</span>
            {release.owner && (
              <button className="quiet text-[13px]" onClick={() => props.onAmend({ owner: null })}>
                By nobody
              </button>
            )}
          </span>
          <EntityPicker
            label="Who looks after it"
            placeholder="Somebody else"
            kinds="account"
            onPick={(hit) => props.onAmend({ owner: hit.id })}
          />
        </div>
        <div>
          <span className="mb-1 block">
            {release.feedbackUntil ? `Feedback wanted until ${day(release.feedbackUntil)}` : 'Feedback wanted until'}
          </span>
          <span className="flex items-start gap-2">
            <DateField
              label="Feedback wanted until"
              zone="UTC"
              of="day"
              side="future"
              value={until}
              onChange={setUntil}
            />
            <button className="button" onClick={() => until && props.onAmend({ feedbackUntil: until })}>
              Set
            </button>
            {release.feedbackUntil && (
              <button className="button" onClick={() => props.onAmend({ feedbackUntil: null })}>
                Wanted always
              </button>
            )}
          </span>
        </div>
      </div>
    </div>
  );
}

/** A text for each kind of device that is named; an empty one removes the kind. */
function ByDevice(props: {
  title: string;
  what: string;
  texts: Record<string, string>;
  onChange: (texts: Record<string, string> | null) => void;
}) {
  const { texts } = props;
  const [kind, setKind] = useState('');
  const [text, setText] = useState('');
  const put = (of: string, value: string) => {
    const next = Object.fromEntries(Object.entries({ ...texts, [of]: value.trim() }).filter(([, t]) => t !== ''));
    props.onChange(Object.keys(next).length > 0 ? next : null);
  };
  return (
    <fieldset>
      <legend>{props.title}</legend>
      {Object.entries(texts).map(([of, told]) => (
        <label key={of + told} className="mt-1 flex items-center gap-2">
          <span className="text-ink2 w-28 truncate">{of}</span>
          <input
            className="field min-w-0 flex-1"
            defaultValue={told}
            onBlur={(e) => e.target.value.trim() !== told && put(of, e.target.value)}
          />
        </label>
      ))}
      <form
        className="mt-1 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          put(kind.trim(), text);
          setKind('');
          setText('');
        }}
      >
        <input
          className="field w-28"
          aria-label={`Kind of device of the new ${props.what.toLowerCase()}`}
          placeholder="kind"
          value={kind}
          onChange={(e) => setKind(e.target.value)}
        />
        <input
          className="field min-w-0 flex-1"
          aria-label={`New ${props.what.toLowerCase()}`}
          placeholder={props.what}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button className="button" disabled={kind.trim() === '' || text.trim() === ''}>
          Add
        </button>
      </form>
    </fieldset>
  );
}
