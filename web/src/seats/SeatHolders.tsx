import { useAddressState } from '../parts/useAddressState';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Edit, PlanLine } from '../api/client';
import { ErrorNotice } from '../parts/ErrorNotice';
import { TickList } from '../parts/TickList';
import { ViewAs } from '../parts/SuitePage';
import { account, useQuestion, writeQuestion } from '../question/question';
import { day, formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';
import { useClaims } from './queries';
import { usePlans } from '../parts/queries';
import { Select } from '../parts/Select';

/** Who holds a seat and who waits for one, by name, with the rule that brings each in. */
export function SeatHolders(props: { plan: PlanLine; zone: string; onEdit: (edits: Edit[]) => void }) {
  const { plan, zone } = props;
  const [question] = useQuestion();
  const [which, setWhich] = useAddressState<'held' | 'waiting'>('list', plan.waiting > 0 ? 'waiting' : 'held');
  const [text, setText] = useState('');
  const { pages, file } = useClaims(plan.id, which, text, question);
  const claims = pages.data?.pages.flatMap((p) => p.claims) ?? [];
  const all = pages.data?.pages[0]?.accounts;
  const coming = plan.steps.find((s) => s.seats > plan.seats);
  return (
    <section aria-label="Who has a seat">
      <div className="mt-6 flex flex-wrap items-center gap-x-4 gap-y-1">
        {(['held', 'waiting'] as const).map((side) => (
          <button
            key={side}
            aria-pressed={side === which}
            className={clsx(
              'font-display py-1 text-[16px]',
              side === which ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
            )}
            onClick={() => setWhich(side)}
          >
            {side === 'held' ? `${formatNumber(plan.held)} hold a seat` : `${formatNumber(plan.waiting)} wait`}
          </button>
        ))}
        <input
          className="field max-w-48 flex-1"
          aria-label="Filter by name or address"
          placeholder="Filter"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === 'Escape' && setText('')}
        />
        <a className="quiet ml-auto text-[13px]" href={file}>
          As CSV
        </a>
      </div>
      {which === 'waiting' && plan.waiting > 0 && (
        <p className="text-ink2 text-[13px]">
          {coming
            ? `${count(coming.seats - plan.seats, 'more seat')} from ${formatInstant(coming.at, zone)}; until then whoever gives one back makes room for the first in the line.`
            : 'No further seat is bought yet: whoever gives one back makes room for the first in the line.'}
        </p>
      )}
      {text && all !== undefined && (
        <p className="text-ink2 text-[13px]">
          {count(all, 'account')} with “{text}”.{' '}
          <button className="quiet" onClick={() => setText('')}>
            Show all
          </button>
        </p>
      )}
      {pages.isError ? (
        <ErrorNotice error={pages.error} onRetry={() => void pages.refetch()} />
      ) : claims.length === 0 ? (
        <p className="text-ink2 mt-1">
          {pages.isPending ? 'Looking…' : which === 'held' ? 'Nobody holds a seat.' : 'Nobody waits.'}
        </p>
      ) : (
        <div className="mt-1">
          <TickList
            key={which}
            label={which === 'held' ? 'Who holds a seat' : 'Who waits'}
            items={claims}
            maxHeight="320px"
            id={(claim) => claim.account}
            tick={(claim) => `Choose ${claim.displayName}`}
            row={(claim) => (
              <>
                {which === 'waiting' && <span className="text-ink2 w-8 shrink-0 text-right">{claim.place}</span>}
                <Link
                  className="w-40 shrink-0 truncate font-semibold hover:underline"
                  to={`/ladder${writeQuestion({ ...question, who: account(claim.account) })}`}
                >
                  {claim.displayName}
                </Link>
                <ViewAs id={claim.account} name={claim.displayName} />
                <span className="text-ink2 min-w-0 flex-1 truncate text-[13px]" title={claim.unit}>
                  {claim.unit}
                </span>
                <span className="w-48 shrink-0 truncate text-[13px]" title={claim.ruleWords}>
                  {claim.rule > 0 && `rule ${claim.rule}, ${claim.ruleWords}`}
                </span>
                <span
                  className="text-ink2 w-44 shrink-0 truncate text-right text-[13px]"
                  title={claim.lastSeen && `last seen ${day(claim.lastSeen)}`}
                >
                  {claim.since && `since ${short(formatInstant(claim.since, zone))}`}
                  {claim.lastSeen && (claim.since ? ', seen ' : 'seen ') + short(day(claim.lastSeen))}
                </span>
                <button
                  className="quiet w-14 shrink-0 text-[13px]"
                  onClick={() =>
                    props.onEdit([
                      which === 'held'
                        ? { kind: 'take-seats', plan: plan.id, accounts: [claim.account] }
                        : { kind: 'give-seats', plan: plan.id, accounts: [claim.account] },
                    ])
                  }
                >
                  {which === 'held' ? 'Take back' : 'Move to front'}
                </button>
              </>
            )}
            actions={(chosen, clear) => (
              <TickedActions
                plan={plan}
                which={which}
                accounts={chosen.map((claim) => claim.account)}
                onEdit={(edits) => {
                  clear();
                  props.onEdit(edits);
                }}
              />
            )}
          />
          {pages.hasNextPage && (
            <button className="button mt-2" onClick={() => void pages.fetchNextPage()}>
              More
            </button>
          )}
        </div>
      )}
    </section>
  );
}

/** "24 Nov" of "Tue 24 Nov, 14:20". */
const short = (told: string) => told.split(', ')[0]?.replace(/^[A-Z]\w\w /, '') ?? told;

/** What can be done with those who are ticked: give them a seat, take it, or move them to another plan without a day between. */
function TickedActions(props: {
  plan: PlanLine;
  which: 'held' | 'waiting';
  accounts: string[];
  onEdit: (edits: Edit[]) => void;
}) {
  const { plan, accounts } = props;
  const [question] = useQuestion();
  const others = (usePlans(question).data?.plans ?? []).filter((p) => p.id !== plan.id && p.term !== 'over');
  const take: Edit = { kind: 'take-seats', plan: plan.id, accounts };
  const give = (to: string): Edit => ({ kind: 'give-seats', plan: to, accounts });
  return (
    <>
      {props.which === 'waiting' && (
        <button className="button" onClick={() => props.onEdit([give(plan.id)])}>
          Let them go first
        </button>
      )}
      <button className="button" onClick={() => props.onEdit([take])}>
        {props.which === 'held' ? 'Take back their seats' : 'Remove from waiting list'}
      </button>
      <Select
        label="Move those ticked to another plan"
        value=""
        placeholder="Move to another plan…"
        options={others.map((p) => ({ value: p.id, label: `${p.name}, ${formatNumber(p.free)} free` }))}
        onChange={(v) => props.onEdit([{ kind: 'batch', source: 'a move between plans', edits: [take, give(v)] }])}
      />
    </>
  );
}
