import { clsx } from 'clsx';
import { ChangeHere } from './ChangeHere';
import { useEffect, useState } from 'react';
import { unwrapAs, api, type Distribution, type RungKind, type Schemas } from '../api/client';
import { rememberQuery } from '../parts/recentQueries';
import { DeliveryCheckLine } from '../parts/DeliveryChecks';
import { useDistribution } from '../parts/queries';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { PeopleAside } from '../parts/PeopleAside';
import { account, draftOf, whoText, writeQuestion, type Question } from '../question/question';
import { now } from '../text/clock';
import { capital, count, formatNumber, joinList as list } from '../text/words';
import { RUNGS } from './rungs';
import { useStaging } from '../parts/useStaging';

/** One press stages that the feature is open to these now, without the rest of their ring. */
function OpenEarly({ release, to, name }: { release: string; to: string; name: string }) {
  const [stage, refusal] = useStaging();
  return (
    <div className="mt-2">
      <button className="button" onClick={() => void stage([{ kind: 'open-early', release, to, from: now() }])}>
        Open it early to {name}
      </button>
      {refusal}
    </div>
  );
}

type Segment = Distribution['rungs'][number]['segments'][number];

/** The ladder for many: on which rung, and by which statement, a setting is decided; a segment lists its accounts. */
export function DistributionLadder({ question, stands }: { question: Question; stands: string }) {
  const crowd = useDistribution(question);
  const [chosen, setChosen] = useState<{ rung: RungKind; segment: Segment }>();
  const answered = crowd.isPlaceholderData ? undefined : crowd.data;
  useEffect(() => {
    if (answered && question.when === undefined)
      rememberQuery({ query: writeQuestion(question), words: `${capital(answered.name)} · ${answered.setting}` });
  }, [answered, question]);
  if (!question.what)
    return <p className="text-ink2 max-w-md p-6">Choose a setting under What, or press / and type any word for it.</p>;
  if (crowd.isError) return <ErrorNotice error={crowd.error} onRetry={() => void crowd.refetch()} />;
  if (!crowd.data) return <p className="text-ink2 p-6">Counting…</p>;
  const told = crowd.data;
  const rungs = [...told.rungs].reverse();
  const listed = chosen && told.rungs.some((r) => r.segments.some((l) => same(l, chosen.segment)));
  return (
    <div className="flex h-full min-h-0">
      <section aria-label="Answer" className="min-w-0 flex-1 overflow-y-auto px-6 pt-4 pb-6">
        <h1 className="font-display text-[20px] leading-[27px]" data-testid="outcome">
          <strong className="text-[22px] font-bold">{sentence(told)}.</strong> {told.setting}
          {told.app && <span className="text-ink2 text-[15px]"> in {told.app}</span>} for {told.name},{' '}
          {count(told.accounts, 'account')}.
        </h1>
        {standingWords(told) && (
          <p className="mt-0.5" data-testid="standings">
            {standingWords(told)}
          </p>
        )}
        <p className="text-ink2 mt-1 text-[13px]">
          {stands}, change {told.change}.
        </p>
        <ChangeHere accounts={told.accounts} current={told.values.length === 1 ? told.values[0]?.inForce : undefined} />
        <DeliveryCheckLine />
        {told.opensEarlyTo !== null && question.when === undefined && (
          <OpenEarly release={question.what.id} to={told.opensEarlyTo} name={told.name} />
        )}
        <ol className="border-ink2 mt-5 max-w-[900px] border-x-2" aria-label="Rungs, the highest first">
          {rungs.map((rung) => (
            <li key={rung.height} className="border-line2 flex min-h-11 items-stretch border-b-2">
              <span className="flex w-32 shrink-0 flex-col justify-center px-3">
                <span className={rung.segments.length > 0 ? 'font-semibold' : 'text-ink2'}>{RUNGS[rung.height]}</span>
                {rung.segments.length > 0 && (
                  <span className="text-ink2 text-[13px]">
                    {formatNumber(rung.segments.reduce((n, l) => n + l.accounts, 0))}
                  </span>
                )}
              </span>
              <span className="flex min-w-0 flex-1 flex-col justify-center gap-1 py-1.5 pr-3">
                {rung.segments.map((segment) => (
                  <SegmentBar
                    key={JSON.stringify(segment)}
                    segment={segment}
                    total={told.accounts}
                    chosen={chosen?.rung === rung.height && same(chosen.segment, segment)}
                    onChoose={() => setChosen({ rung: rung.height, segment })}
                  />
                ))}
              </span>
            </li>
          ))}
        </ol>
        <p className="text-ink2 mt-2 text-[13px]">Each segment is to scale; choose one to list its accounts.</p>
      </section>
      {chosen && listed && (
        <SegmentPeople
          question={question}
          rung={chosen.rung}
          segment={chosen.segment}
          onClose={() => setChosen(undefined)}
        />
      )}
    </div>
  );
}

const same = (a: Segment, b: Segment) =>
  a.policy === b.policy &&
  JSON.stringify(a.inForce) === JSON.stringify(b.inForce) &&
  a.standing === b.standing &&
  a.blockedBy === b.blockedBy;

function sentence(crowd: Distribution): string {
  if (crowd.values.length === 0) return 'Nobody is here';
  if (crowd.values.length === 1) return capital(`${crowd.values[0]?.value} for all`);
  return capital(
    crowd.values
      .slice(0, 3)
      .map((v) => `${v.value} for ${formatNumber(v.accounts)}`)
      .join(', '),
  );
}

/** How they stand, where that is more than that a value is set: "capped by Crew cap for all 12, locked for 3". */
export function standingWords(crowd: Distribution): string {
  const told = crowd.standings
    .filter((s) => s.standing !== 'set' && s.standing !== 'builtin')
    .map((s) => {
      const whom =
        s.accounts === crowd.accounts
          ? s.accounts === 1
            ? 'the one'
            : `all ${formatNumber(s.accounts)}`
          : formatNumber(s.accounts);
      return `${s.standing}${s.by ? ` by ${s.by}` : ''} for ${whom}`;
    });
  return told.length === 0 ? '' : capital(`${list(told)}.`);
}

function SegmentBar(props: { segment: Segment; total: number; chosen: boolean; onChoose: () => void }) {
  const { segment } = props;
  const share = Math.max(0.4, (100 * segment.accounts) / Math.max(1, props.total));
  const blocked = segment.standing === 'blocked';
  return (
    <button
      className={clsx('group block w-full text-left', props.chosen && 'bg-well')}
      aria-pressed={props.chosen}
      aria-label={`${segment.name ?? 'The catalogue'}: ${segment.value} for ${count(segment.accounts, 'account')}${segment.cappedBy ? `, capped by ${segment.cappedBy}` : ''}${segment.blockedBy ? `, blocked: ${segment.blockedBy}` : ''}`}
      onClick={props.onChoose}
    >
      <span className="flex items-baseline gap-2">
        <span className="min-w-0 truncate">{segment.name ?? 'The catalogue'}</span>
        <strong className="shrink-0 font-semibold">{segment.value}</strong>
        {!blocked && segment.standing !== 'set' && segment.standing !== 'builtin' && (
          <span className="text-ink2 min-w-0 truncate text-[13px]">
            {segment.standing}
            {segment.cappedBy && ` by ${segment.cappedBy}`}
          </span>
        )}
        {segment.blockedBy && (
          <span className="text-shut min-w-0 truncate text-[13px]" title={segment.blockedBy}>
            blocked: {segment.blockedBy}
          </span>
        )}
        <span className="ml-auto shrink-0">{formatNumber(segment.accounts)}</span>
      </span>
      <span className="bg-well mt-0.5 block h-2">
        <span
          className={clsx(
            'settles block h-2',
            blocked ? 'border-shut bg-sheet border-2' : 'bg-decide group-hover:opacity-80',
          )}
          style={{ width: `${share}%` }}
        />
      </span>
    </button>
  );
}

function SegmentPeople(props: { question: Question; rung: RungKind; segment: Segment; onClose: () => void }) {
  const { question, rung, segment } = props;
  const after = useAfterDraft();
  const draft = draftOf(question.when);
  const query = {
    who: question.who ? whoText(question.who) : '',
    setting: question.what?.id ?? '',
    workspace: question.where?.id,
    at: draft === undefined ? question.when : undefined,
    draft,
    rung,
    policy: segment.policy ?? 'none',
    value: JSON.stringify(segment.inForce),
    standing: segment.standing,
  };
  const csv = new URLSearchParams(
    Object.entries({ ...query, format: 'csv' }).flatMap(([k, v]) => (v === undefined ? [] : [[k, String(v)]])),
  );
  return (
    <PeopleAside
      label="Accounts of this segment"
      title={`${capital(segment.value)}, by ${segment.name ?? 'the catalogue'}`}
      list={[query, draft === undefined ? undefined : after.key]}
      page={(next) =>
        unwrapAs<Schemas['PeopleList']>(
          api.GET('/api/v1/distribution', { params: { query: { ...query, list: true, limit: 1000, after: next } } }),
        )
      }
      file={`/api/v1/distribution?${csv.toString()}`}
      to={(person) => `/ladder${writeQuestion({ ...question, who: account(person.account) })}`}
      onClose={props.onClose}
    />
  );
}
