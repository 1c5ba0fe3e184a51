import { useAddressState } from '../parts/useAddressState';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Edit } from '../api/client';
import { PasteAccounts } from '../parts/PasteAccounts';
import { EntityPicker } from '../parts/EntityPicker';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Sheet } from '../parts/Sheet';
import { useQuestion, writeQuestion } from '../question/question';
import { count, formatNumber } from '../text/words';
import { AskToJoin } from './AskToJoin';
import { RingMembers } from './RingMembers';
import { useRoster, type RingLine } from './queries';

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
  const members = pages.data?.pages.flatMap((p) => p.members) ?? [];
  const policy = ring.policies[0];
  const only = ring.may - ring.did;
  return (
    <Sheet
      label="The ring"
      onClose={props.onClose}
      head={
        <span className="text-ink2 text-[13px]">
          {ring.asksConsent ? 'Asks each one to consent' : 'Everyone, without being asked'}
        </span>
      }
    >
      <h2 className="font-display text-[19px] font-semibold">{ring.name}</h2>
      {ring.terms && (
        <details className="text-ink2 my-1">
          <summary>
            Terms, version {ring.terms.version}
            {ring.terms.from > 0 && `; a consent counts from version ${ring.terms.from} on`}
          </summary>
          <p className="border-line my-1 border p-2 whitespace-pre-line">{ring.terms.text}</p>
        </details>
      )}
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
        <RingMembers
          key={which}
          ring={ring}
          which={which}
          members={members}
          zone={zone}
          by={props.by}
          onEdit={onEdit}
        />
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
    </Sheet>
  );
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
