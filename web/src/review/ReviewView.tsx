import { useQuery } from '@tanstack/react-query';
import { usePageTitle } from '../parts/usePageTitle';
import { useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'react-router';
import {
  unwrap,
  api,
  type Draft,
  type PublishedReceipt,
  type Review,
  type RefusedError,
  type Session,
} from '../api/client';
import { useDraft } from '../draft/draft';
import { impactSentence, people, stuckText } from '../draft/impactText';
import { formatInstant } from '../text/dates';
import { DraftDeliveryChecks } from '../parts/DeliveryChecks';
import { DraftEdits } from '../parts/DraftEdits';
import { useSavedDrafts } from '../parts/queries';
import { ErrorNotice } from '../parts/ErrorNotice';
import { draftOf, EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { amount, count, formatNumber, joinList } from '../text/words';
import { ConflictList } from './ConflictList';
import type { ImpactFilter } from './impactFilter';
import { LostUsage } from './LostUsage';
import { MoveTable } from './MoveTable';
import { PublishBar } from './PublishBar';
import { PublishedPage } from './PublishedPage';
import { ScheduledPage } from './ScheduledPage';
import { RipplePeople } from './RipplePeople';
import { UnitImpact } from './UnitImpact';

/** How many are named of those whose seats pass on, until one asks for all. */
const SEATS_SHOWN = 6;

/** The draft as a page that one reads before it counts: what changes, for whom, when, and what is worth a second look. */
export function ReviewView({ session }: { session?: Session }) {
  const { draft, loading, takeUp } = useDraft();
  const [question] = useQuestion();
  const asked = draftOf(question.when);
  const aside = useSavedDrafts().find((d) => d.id === asked);
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const came = (useLocation().state as { from?: string } | null)?.from;
  const [from] = useState(came);
  const [done, setDone] = useState<{ receipt: PublishedReceipt; later: Review['later'] }>();
  const [planned, setPlanned] = useState<Draft>();
  usePageTitle('Review');
  const reading = useQuery<Review, RefusedError>({
    queryKey: ['reading', draft?.id, draft?.version, draft?.change],
    queryFn: () => unwrap(api.GET('/api/v1/drafts/{id}/reading', { params: { path: { id: draft?.id ?? 0 } } })),
    enabled: draft !== undefined,
  });
  // A draft begun since then, such as one that takes the change back, is read over in place of the receipt.
  if (planned && !draft) return <ScheduledPage draft={planned} zone={zone} onCancelled={() => setPlanned(undefined)} />;
  if (done && !draft) return <PublishedPage {...done} zone={zone} from={from} />;
  if (aside)
    return (
      <div className="max-w-xl p-8">
        <h1 className="font-display text-xl font-semibold">{aside.name || 'This draft'} is saved for later</h1>
        {aside.stuck && <p className="text-shut mt-2">{stuckText(aside, zone)}</p>}
        {aside.due && !aside.stuck && <p className="mt-2">It publishes itself on {formatInstant(aside.due, zone)}.</p>}
        <p className="mt-2">
          {count(aside.edits, 'edit')} by {aside.author}. Open it to review it
          {draft ? '; the one that you work on is saved for later meanwhile, and nothing of it is lost' : ''}.
        </p>
        <button className="button button-strong mt-3" onClick={() => takeUp(aside.id)}>
          Open it
        </button>
      </div>
    );
  if (loading) return <p className="text-ink2 p-6">Opening the draft…</p>;
  if (!draft || draft.items.length === 0)
    return (
      <div className="max-w-xl p-8">
        <h1 className="font-display text-xl font-semibold">There is nothing to review</h1>
        <p className="mt-2">
          Edits are collected in a draft until they are published: change a policy, the ranking, a group or a unit, and
          read here what it would alter.
        </p>
      </div>
    );
  if (reading.isError) return <ErrorNotice error={reading.error} onRetry={() => void reading.refetch()} />;
  if (!reading.data) return <p className="text-ink2 p-6">Working out what changes…</p>;
  return (
    <Page
      draft={draft}
      reading={reading.data}
      zone={zone}
      onPublished={setDone}
      onScheduled={setPlanned}
      key={draft.id}
    />
  );
}

function Page(props: {
  draft: Draft;
  reading: Review;
  zone: string;
  onPublished: (done: { receipt: PublishedReceipt; later: Review['later'] }) => void;
  onScheduled: (draft: Draft) => void;
}) {
  const { draft, reading, zone } = props;
  const [part, setPart] = useState<ImpactFilter>();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const none = reading.accounts === 0;
  return (
    <div className="flex h-full min-h-0 flex-col" role="region" aria-label="Review">
      <div className="flex min-h-0 flex-1">
        <div
          className="min-w-0 flex-1 overflow-y-auto px-6 pt-4 pb-6"
          tabIndex={0}
          role="region"
          aria-label="The ripple"
        >
          <h1 ref={heading} tabIndex={-1} className="font-display text-[22px] font-bold outline-none">
            {none
              ? draft.stands
                ? reading.inWorkspaces.length > 0
                  ? 'No value changes outside workspaces now'
                  : 'No value changes for anybody now'
                : 'Without the edits that conflict, no value changes'
              : `${people(reading.accounts)} affected`}
          </h1>
          <p>
            {!none && (
              <>
                {impactSentence(reading)}, of {formatNumber(reading.everyone)} in all.{' '}
                <button className="quiet" onClick={() => setPart({ title: 'Everyone affected', query: {} })}>
                  By name
                </button>
              </>
            )}
            {(reading.joining ?? 0) > 0 && ` ${count(reading.joining ?? 0, 'account')} new.`}
            {(reading.leaving ?? 0) > 0 && (
              <>
                {' '}
                <button
                  className="quiet"
                  onClick={() => setPart({ title: 'No settings any longer', query: { part: 'leaving' } })}
                >
                  {count(reading.leaving ?? 0, 'account')} with no settings any longer
                </button>
                .
              </>
            )}
            {reading.decidedElsewhere > 0 && (
              <span className="text-ink2">
                {' '}
                For {count(reading.decidedElsewhere, 'account')} the value stays and another statement decides, or the
                standing differs.
              </span>
            )}
          </p>
          <ConflictList draft={draft} zone={zone} />
          <Cautions cautions={reading.cautions} />
          <LostUsage used={reading.used} onChoose={setPart} />
          <div className="@container">
            <div className="grid max-w-[1320px] gap-x-10 @3xl:grid-cols-[minmax(0,1fr)_300px] @5xl:grid-cols-[minmax(0,1fr)_380px]">
              <div className="min-w-0">
                {(
                  [
                    ['Lose', 'lose'],
                    ['Gain', 'gain'],
                    ['Other changes', 'other'],
                  ] as const
                ).map(([title, effect]) => (
                  <MoveTable
                    key={effect}
                    title={title}
                    moves={reading.moves.filter((m) => m.effect === effect)}
                    chosen={part}
                    onChoose={setPart}
                  />
                ))}
                <Rest reading={reading} onChoose={setPart} />
                <h2 className="font-display mt-6 text-[16px] font-semibold">The edits</h2>
                <DraftEdits draft={draft} className="mt-1" />
                <DraftDeliveryChecks draft={draft.id} />
              </div>
              <UnitImpact where={reading.where} chosen={part} onChoose={setPart} />
            </div>
          </div>
        </div>
        {part && <RipplePeople draft={draft} part={part} onClose={() => setPart(undefined)} />}
      </div>
      <PublishBar
        draft={draft}
        zone={zone}
        settling={reading.settling}
        onPublished={(receipt) => props.onPublished({ receipt, later: reading.later })}
        onScheduled={props.onScheduled}
      />
    </div>
  );
}

function Cautions({ cautions }: { cautions: Review['cautions'] }) {
  if (cautions.length === 0) return null;
  return (
    <section aria-label="Worth a second look" className="border-draft bg-paper mt-3 border-l-4 px-4 py-2">
      <h2 className="font-semibold">Worth a second look</h2>
      <ul>
        {cautions.map((c) => (
          <li key={c.what + c.title} className="mt-0.5">
            <strong className="font-semibold">{c.what === 'oneself' ? 'Yourself' : c.title}</strong>
            {c.what === 'loosened' && ` is loosened for ${formatNumber(c.accounts)}`}
            {c.what === 'locked' && ' is locked or unlocked'}: {c.words}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How the seats of a plan pass on: how many, with what they carry, and who. */
function SeatsPassed({ seats }: { seats: Review['seats'][number] }) {
  const [all, setAll] = useState(false);
  const shown = all ? seats.who : seats.who.slice(0, SEATS_SHOWN);
  const more = seats.given + seats.returned - shown.length;
  return (
    <li className="border-line border-b py-1">
      <strong className="font-semibold">{seats.plan}</strong>:{' '}
      {joinList(
        [
          seats.returned > 0 && `${count(seats.returned, 'seat')} ${seats.returned === 1 ? 'is' : 'are'} returned`,
          seats.given > 0 &&
            `${count(seats.given, 'account')} ${seats.given === 1 ? 'gets' : 'get'} one${seats.carries.length > 0 ? `, and with it ${joinList(seats.carries)}` : ''}`,
          seats.waitingAfter !== seats.waitingBefore &&
            `${seats.waitingAfter === 0 ? 'nobody waits' : seats.waitingAfter === 1 ? '1 waits' : `${formatNumber(seats.waitingAfter)} wait`} instead of ${formatNumber(seats.waitingBefore)}`,
        ].filter((t): t is string => typeof t === 'string'),
      )}
      .
      <ul className="text-ink2 text-[13px]">
        {shown.map((who) => (
          <li key={`${who.account}${who.given}`}>
            {who.given ? 'To ' : 'From '}
            <span className="text-ink">{who.displayName}</span>, because {who.because}
          </li>
        ))}
      </ul>
      {more > 0 &&
        (seats.who.length > SEATS_SHOWN && !all ? (
          <button className="quiet text-[13px]" onClick={() => setAll(true)}>
            and {formatNumber(more)} more
          </button>
        ) : (
          <span className="text-ink2 text-[13px]">and {formatNumber(more)} more</span>
        ))}
    </li>
  );
}

function Rest({ reading, onChoose }: { reading: Review; onChoose: (part: ImpactFilter) => void }) {
  const [question] = useQuestion();
  return (
    <div className="mt-5 space-y-4">
      {reading.blockedBy.length > 0 && (
        <section aria-label="What stays blocked">
          <h2 className="font-display text-[16px] font-semibold">What stays blocked</h2>
          <ul className="border-line mt-1 border-t">
            {reading.blockedBy.map((b) => (
              <li key={b.setting + b.decided + b.needs} className="border-line flex gap-3 border-b py-1">
                <span className="min-w-0 flex-1">
                  <strong className="font-semibold">{b.title}</strong> would be {b.decided}, but lacks: {b.needs}
                </span>
                {b.licence && (
                  <Link
                    className="quiet"
                    to={`/seats${writeQuestion({ who: question.who ?? EVERYONE, what: { id: b.setting } }, '?list=needed')}`}
                  >
                    What would it take?
                  </Link>
                )}
                <button
                  className="quiet"
                  onClick={() =>
                    onChoose({ title: `${b.title}, blocked`, query: { setting: b.setting, part: 'blocked' } })
                  }
                >
                  {formatNumber(b.accounts)}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.seats.length > 0 && (
        <section aria-label="Seats">
          <h2 className="font-display text-[16px] font-semibold">Seats</h2>
          <ul className="border-line mt-1 border-t">
            {reading.seats.map((s) => (
              <SeatsPassed key={s.planId} seats={s} />
            ))}
          </ul>
        </section>
      )}
      {reading.costs.length > 0 && (
        <section aria-label="Cost">
          <h2 className="font-display text-[16px] font-semibold">Cost</h2>
          <ul className="border-line mt-1 border-t">
            {reading.costs.map((cost) => (
              <li key={cost.planId} className="border-line border-b py-1">
                <strong className="font-semibold">{cost.plan}</strong>: {costWords(cost)}.
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.releases.length > 0 && (
        <section aria-label="Previews">
          <h2 className="font-display text-[16px] font-semibold">Previews</h2>
          <ul className="border-line mt-1 border-t">
            {reading.releases.map((r) => (
              <li key={r.setting} className="border-line border-b py-1">
                <Link className="hover:underline" to={`/previews/release/${encodeURIComponent(r.setting)}`}>
                  {r.words}.
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.later.length > 0 && (
        <section aria-label="Later">
          <h2 className="font-display text-[16px] font-semibold">Later, by itself</h2>
          <ul>
            {reading.later.map((l) => (
              <li key={l.at}>
                <button className="quiet" onClick={() => onChoose({ title: `From ${l.when}`, query: { at: l.at } })}>
                  From {l.when}: {formatNumber(l.more)} more
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.workspaces.some((w) => w.accounts > 0) && (
        <section aria-label="In workspaces">
          <h2 className="font-display text-[16px] font-semibold">When working in a workspace</h2>
          <ul>
            {reading.workspaces
              .filter((w) => w.accounts > 0)
              .map((w) => (
                <li key={w.id}>
                  <button
                    className="quiet"
                    onClick={() => onChoose({ title: `In ${w.name}`, query: { workspace: w.id } })}
                  >
                    {w.name}: {count(w.accounts, 'member')} {w.accounts === 1 ? 'changes' : 'change'}
                  </button>
                </li>
              ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** "110.00 EUR a month more, for 10 more seats, from 1 Jan". */
export function costWords(cost: Review['costs'][number]): string {
  const less = cost.more.startsWith('-');
  const seats = Math.abs(cost.seats);
  const paid =
    seats === 0
      ? ''
      : `, for ${formatNumber(seats)} ${cost.seats > 0 ? 'more' : 'fewer'} ${seats === 1 ? 'seat' : 'seats'}`;
  const from = cost.when && `, from ${cost.when}`;
  return `${amount(cost.more.replace('-', ''))} ${cost.currency} a ${cost.per} ${less ? 'less' : 'more'}${paid}${from}`;
}
