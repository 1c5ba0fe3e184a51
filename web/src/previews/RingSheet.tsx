import { useAddressState } from '../parts/useAddressState';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Edit, Schemas } from '../api/client';
import { PasteAccounts } from '../parts/PasteAccounts';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { VirtualRows } from '../parts/VirtualRows';
import { ViewAs } from '../parts/SuitePage';
import { account, useQuestion, writeQuestion } from '../question/question';
import { now } from '../text/clock';
import { formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';
import { AskToJoin, asking } from './AskToJoin';
import { useRoster, type RingLine } from './queries';

type Member = Schemas['RingMember'];

/** One ring: who may and who did, how each got in, and more put in or taken out; an ordinary policy says so. */
export function RingSheet(props: {
  ring: RingLine;
  zone: string;
  /** Who asks people to join. */
  by: string;
  onEdit: (edits: Edit[]) => Promise<boolean>;
  onClose: () => void;
}) {
  const { ring, zone, onEdit } = props;
  const [question] = useQuestion();
  const [which, setWhich] = useAddressState<'may' | 'did'>('list', ring.asksConsent ? 'may' : 'did');
  const [kind, setKind] = useState<'people' | 'rooms'>();
  const { pages, file } = useRoster(ring.id, which, kind, question);
  const first = pages.data?.pages[0];
  const [ticked, setTicked] = useState(new Map<string, Member>());
  const [room, setRoom] = useState<Member>();
  const [agreed, setAgreed] = useState('');
  const tick = (member: Member, on: boolean) => {
    const next = new Map(ticked);
    if (on) next.set(member.account, member);
    else next.delete(member.account);
    setTicked(next);
  };
  const members = pages.data?.pages.flatMap((p) => p.members) ?? [];
  const policy = ring.policies[0];
  const only = ring.may - ring.did;
  return (
    <aside
      aria-label="The ring"
      className="border-line flex w-[460px] shrink-0 flex-col border-l max-[1023px]:w-full max-[1023px]:border-0"
    >
      <div className="border-line flex items-center gap-2 border-b px-5 py-2.5">
        <span className="text-ink2 text-[13px]">
          {ring.asksConsent ? 'Asks each one to consent' : 'Everyone, without being asked'}
        </span>
        <button className="button ml-auto" onClick={props.onClose}>
          Close
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-5 pt-3 pb-8">
        <h2 className="font-display text-[19px] font-semibold">{ring.name}</h2>
        {ring.policies.length > 0 && (
          <p className="text-ink2">
            Put into it by{' '}
            {ring.policies.map((p, i) => (
              <span key={p.id}>
                {i > 0 && ', '}
                <Link className="quiet" to={`/policies/${encodeURIComponent(p.id)}${writeQuestion(question)}`}>
                  {p.name}
                </Link>
              </span>
            ))}
            {ring.policies.length > 1 && ', the strongest first'}.
          </p>
        )}
        <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1">
          {ring.asksConsent &&
            (['may', 'did'] as const).map((side) => (
              <button
                key={side}
                aria-pressed={side === which}
                className={clsx(
                  'font-display py-1 text-[16px]',
                  side === which ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
                )}
                onClick={() => setWhich(side)}
              >
                {side === 'may'
                  ? `${formatNumber(only)} of ${formatNumber(ring.may)} not yet`
                  : `${formatNumber(ring.did)} joined`}
              </button>
            ))}
          <a className="quiet ml-auto text-[13px]" href={file}>
            As CSV
          </a>
        </div>
        <p className="text-ink2 text-[13px]">
          {which === 'may' && ring.asksConsent
            ? 'They may, and have not consented: nobody can do it for them.'
            : 'What opens to the ring has come to them, unless another gate is closed.'}
        </p>
        {ring.rooms > 0 && (
          <p className="mt-1 flex gap-4 text-[13px]">
            {([undefined, 'people', 'rooms'] as const).map((of) => (
              <button
                key={of ?? 'all'}
                aria-pressed={kind === of}
                className={kind === of ? 'font-semibold' : 'text-ink2 hover:text-ink'}
                onClick={() => setKind(of)}
              >
                {of ?? 'all'}
              </button>
            ))}
            {first && kind === undefined && first.rooms > 0 && (
              <span className="text-ink2 ml-auto">{count(first.rooms, 'room')} among them</span>
            )}
          </p>
        )}
        {pages.isError ? (
          <ErrorNotice error={pages.error} onRetry={() => void pages.refetch()} />
        ) : members.length === 0 ? (
          <p className="text-ink2 mt-1">{pages.isPending ? 'Looking…' : 'Nobody.'}</p>
        ) : (
          <VirtualRows
            label={which === 'may' ? 'Who is allowed' : 'Who joined'}
            items={members}
            maxHeight="min(420px, 50dvh)"
            row={(m) => (
              <>
                {ring.asksConsent && m.policyId !== null && (
                  <input
                    type="checkbox"
                    aria-label={`Tick ${m.displayName}`}
                    checked={ticked.has(m.account)}
                    onChange={(e) => tick(m, e.target.checked)}
                  />
                )}
                <Link
                  className="w-36 shrink-0 truncate font-semibold hover:underline"
                  to={`/ladder${writeQuestion({ ...question, who: account(m.account), what: { id: 'preview.ring' } })}`}
                >
                  {m.displayName}
                </Link>
                <ViewAs id={m.account} name={m.displayName} />
                <span
                  className="text-ink2 min-w-0 flex-1 truncate text-[13px]"
                  title={[m.unit, m.policy && `by ${m.policy}, ${m.way}`, m.beaten].filter(Boolean).join('; ')}
                >
                  {m.kind === 'room' && 'room · '}
                  {m.policy ? `by ${m.way}` : 'by the catalogue'}
                  {m.beaten && <strong className="text-ink font-semibold"> · {m.beaten}</strong>}
                </span>
                {!m.consented && m.asked && (
                  <span className="text-ink2 shrink-0 text-[13px]">
                    {m.declined
                      ? `said no ${formatInstant(m.declined, zone).split(', ')[0]}`
                      : `asked ${formatInstant(m.asked, zone).split(', ')[0]}`}
                  </span>
                )}
                {which === 'may' && ring.asksConsent && m.kind === 'room' && (
                  <button
                    className="quiet shrink-0 text-[13px]"
                    aria-label={`Record the word of ${m.displayName}`}
                    onClick={() => setRoom(m)}
                  >
                    Record
                  </button>
                )}
                {which === 'may' && ring.asksConsent && m.kind !== 'room' && !m.asked && (
                  <button
                    className="quiet shrink-0 text-[13px]"
                    aria-label={`Ask ${m.displayName} to join ${ring.name}`}
                    onClick={() => void onEdit([asking(ring.id, [m.account], '', props.by, now())])}
                  >
                    Ask
                  </button>
                )}
                {m.consented && (
                  <span className="text-ink2 shrink-0 text-[13px]">
                    {formatInstant(m.consented, zone).split(', ')[0]}
                  </span>
                )}
                {m.policyId !== null && ring.asksConsent && (
                  <button
                    className="quiet shrink-0 text-[13px]"
                    aria-label={`Take ${m.displayName} out of ${ring.name}`}
                    onClick={() => void onEdit([leave(m.policyId ?? '', m.account, m.target)])}
                  >
                    Remove
                  </button>
                )}
              </>
            )}
          />
        )}
        {room && (
          <form
            className="bg-paper border-line mt-2 border p-3"
            aria-label={`The word of ${room.displayName}`}
            onSubmit={(e) => {
              e.preventDefault();
              void onEdit([
                {
                  kind: 'record-consent',
                  account: room.account,
                  ring: ring.id,
                  at: now(),
                  agreed: agreed.trim(),
                },
              ]).then((done) => {
                if (!done) return;
                setRoom(undefined);
                setAgreed('');
              });
            }}
          >
            <label className="block">
              Who looks after {room.displayName}, and agreed that it takes part in {ring.name}?
              <input className="field mt-1 w-full" value={agreed} onChange={(e) => setAgreed(e.target.value)} />
            </label>
            <div className="mt-2 flex gap-2">
              <button className="button button-strong" disabled={agreed.trim() === ''}>
                Record it
              </button>
              <button type="button" className="button" onClick={() => setRoom(undefined)}>
                Leave it
              </button>
            </div>
          </form>
        )}
        {ticked.size > 0 && (
          <div className="mt-2 flex items-center gap-3" role="region" aria-label="Those ticked">
            <strong className="font-semibold">{count(ticked.size, 'account')} ticked</strong>
            <button
              className="button"
              onClick={() => {
                const edits = [...ticked.values()].map((m) => leave(m.policyId ?? '', m.account, m.target));
                void onEdit([{ kind: 'batch', source: 'a selection', edits }]).then(
                  (done) => done && setTicked(new Map()),
                );
              }}
            >
              Take them out
            </button>
            {which === 'may' && (
              <button
                className="button"
                onClick={() =>
                  void onEdit([asking(ring.id, [...ticked.keys()], '', props.by, now())]).then(
                    (done) => done && setTicked(new Map()),
                  )
                }
              >
                Ask them
              </button>
            )}
            <button className="quiet" onClick={() => setTicked(new Map())}>
              Tick none
            </button>
          </div>
        )}
        {pages.hasNextPage && (
          <button className="button mt-2" onClick={() => void pages.fetchNextPage()}>
            More
          </button>
        )}
        {ring.asksConsent && which === 'may' && only > 0 && <AskToJoin ring={ring} by={props.by} onEdit={onEdit} />}
        {ring.asksConsent && (
          <div className="mt-3">
            <EntityPicker
              label="Put somebody into the ring"
              placeholder="Put in: a person, a room, a group, a unit"
              kinds="account,group,unit"
              refuse={(hit) => (hit.context === 'mailing group' ? 'A mailing group cannot be aimed at' : undefined)}
              onPick={(hit) => void onEdit([join(ring, `${hit.kind}:${hit.id}`)])}
            />
            {policy ? (
              <>
                <p className="text-ink2 mt-1 text-[13px]">It is written into {policy.name}.</p>
                <PasteAccounts policy={policy.id} name={policy.name} />
              </>
            ) : (
              <p className="text-ink2 mt-1 text-[13px]">A new policy is written that puts them in.</p>
            )}
          </div>
        )}
      </div>
    </aside>
  );
}

/** Takes an account out of a ring: its own line in the policy, else an exception from the line for many that brings it in. */
export function leave(policy: string, id: string, target: string | null): Edit {
  const own = `account:${id}`;
  return target === own
    ? { kind: 'remove-assignment', policy, assignment: { include: own } }
    : { kind: 'put-assignment', policy, assignment: { except: own } };
}

/** Puts a target into a ring: into the strongest policy that does so, else into a new one. */
export function join(ring: Pick<RingLine, 'id' | 'name' | 'policies'>, target: string): Edit {
  const policy = ring.policies[0];
  return policy
    ? { kind: 'put-assignment', policy: policy.id, assignment: { include: target } }
    : {
        kind: 'add-policy',
        policy: {
          name: `${ring.name} crew`,
          statements: [{ setting: 'preview.ring', set: ring.id }],
          assignments: [{ include: target }],
        },
      };
}
