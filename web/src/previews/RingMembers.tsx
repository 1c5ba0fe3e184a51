import { useState } from 'react';
import { Link } from 'react-router';
import type { Edit, Schemas } from '../api/client';
import { ViewAs } from '../parts/SuitePage';
import { TickList } from '../parts/TickList';
import { account, useQuestion, writeQuestion } from '../question/question';
import { now } from '../text/clock';
import { formatInstant } from '../text/dates';
import { asking } from './AskToJoin';
import type { RingLine } from './queries';

type Member = Schemas['RingMember'];

interface Props {
  ring: RingLine;
  which: 'may' | 'did';
  zone: string;
  /** Who asks people to join. */
  by: string;
  onEdit: (edits: Edit[]) => Promise<boolean>;
}

/** Who may join a ring, or did, each with how they got in and what can be done. */
export function RingMembers(props: Props & { members: Member[] }) {
  const { ring, which, onEdit } = props;
  const [room, setRoom] = useState<Member>();
  return (
    <>
      <TickList
        label={which === 'may' ? 'Who is allowed' : 'Who joined'}
        items={props.members}
        maxHeight="min(420px, 50dvh)"
        id={(m) => m.account}
        tick={(m) => (ring.asksConsent && m.policyId !== null ? `Tick ${m.displayName}` : undefined)}
        row={(m) => <RingMember {...props} member={m} onRoom={setRoom} />}
        actions={(ticked, clear) => (
          <>
            <button
              className="button"
              onClick={() => {
                const edits = ticked.map((m) => leave(m.policyId ?? '', m.account, m.target));
                void onEdit([{ kind: 'batch', source: 'a selection', edits }]).then((done) => done && clear());
              }}
            >
              Remove them
            </button>
            {which === 'may' && (
              <button
                className="button"
                onClick={() =>
                  void onEdit([
                    asking(
                      ring.id,
                      ticked.map((m) => m.account),
                      '',
                      props.by,
                      now(),
                    ),
                  ]).then((done) => done && clear())
                }
              >
                Ask them
              </button>
            )}
          </>
        )}
      />
      {room && <RoomConsent room={room} ring={ring} onEdit={onEdit} onClose={() => setRoom(undefined)} />}
    </>
  );
}

/** One row: who, by which way, what was answered, and what can be done. */
function RingMember(props: Props & { member: Member; onRoom: (room: Member) => void }) {
  const { ring, which, member: m, onEdit } = props;
  const [question] = useQuestion();
  const on = (at: string) => formatInstant(at, props.zone).split(', ')[0];
  return (
    <>
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
      {m.outdated && (
        <span className="text-shut shrink-0 text-[13px]">
          {m.terms > 0 ? `agreed to version ${m.terms}, now outdated` : 'agreed before there were terms'}
        </span>
      )}
      {!m.consented && !m.outdated && m.asked && (
        <span className="text-ink2 shrink-0 text-[13px]">
          {m.declined ? `said no ${on(m.declined)}` : `asked ${on(m.asked)}`}
        </span>
      )}
      {which === 'may' && ring.asksConsent && m.kind === 'room' && (
        <button
          className="quiet shrink-0 text-[13px]"
          aria-label={`Record the word of ${m.displayName}`}
          onClick={() => props.onRoom(m)}
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
          {on(m.consented)}
          {m.terms > 0 && `, terms ${m.terms}`}
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
  );
}

/** The word of a room, which whoever looks after it gives and an administrator records. */
function RoomConsent(props: {
  room: Member;
  ring: RingLine;
  onEdit: (edits: Edit[]) => Promise<boolean>;
  onClose: () => void;
}) {
  const { room, ring } = props;
  const [agreed, setAgreed] = useState('');
  return (
    <form
      className="bg-paper border-line mt-2 border p-3"
      aria-label={`The word of ${room.displayName}`}
      onSubmit={(e) => {
        e.preventDefault();
        void props
          .onEdit([{ kind: 'record-consent', account: room.account, ring: ring.id, at: now(), agreed: agreed.trim() }])
          .then((done) => done && props.onClose());
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
        <button type="button" className="button" onClick={props.onClose}>
          Cancel
        </button>
      </div>
    </form>
  );
}

/** Takes an account out of a ring: its own line in the policy, else an exception from the line for many that brings it in. */
export function leave(policy: string, id: string, target: string | null): Edit {
  const own = `account:${id}`;
  return target === own
    ? { kind: 'remove-assignment', policy, assignment: { include: own } }
    : { kind: 'put-assignment', policy, assignment: { except: own } };
}
