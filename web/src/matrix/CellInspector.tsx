import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { unwrap, api, problemText, type Setting, type MatrixCellData, type MatrixRowData } from '../api/client';
import { useClimb, useDistribution } from '../parts/queries';
import { useAfterDraft, useDraft } from '../draft/draft';
import { writeQuestion, type Question } from '../question/question';
import { ValueControl } from '../parts/ValueControl';
import { count, formatNumber } from '../text/words';
import type { CellInput } from './parseCellInput';
import { Alert } from '../parts/Alert';

/** Explains the cell that is stood on, and stages a value for it; it lies below the rows and never over them. */
export function CellInspector(props: {
  row: MatrixRowData;
  setting: Setting;
  cell?: MatrixCellData;
  question: Question;
  /** What is typed into the cell, or chosen here. */
  typed?: CellInput;
  onTyped: (typed: CellInput | undefined) => void;
  onDone: () => void;
}) {
  const { row, setting } = props;
  const { draft } = useDraft();
  const asked: Question = {
    ...props.question,
    who: { kind: row.kind, id: row.id },
    what: { id: setting.key },
    when: props.question.when ?? (draft && draft.items.length > 0 ? `draft:${draft.id}` : undefined),
  };
  const climb = useClimb(asked);
  const crowd = useDistribution(asked);
  const segments = crowd.data?.rungs.flatMap((r) => r.segments) ?? [];
  segments.sort((a, b) => b.accounts - a.accounts);
  return (
    <div
      role="region"
      aria-label="The cell"
      className="bg-paper border-line2 flex min-h-[76px] flex-wrap items-start gap-x-6 gap-y-1 border-t px-5 py-2"
    >
      <div className="min-w-64 flex-1">
        <p>
          <strong className="font-semibold">{row.name}</strong>
          <span className="text-ink2"> · {setting.title}</span>
          {row.kind !== 'account' && <span className="text-ink2"> · {count(row.accounts, 'account')}</span>}
        </p>
        {row.kind === 'account' ? (
          climb.data && (
            <p>
              <strong className="font-semibold">{climb.data.drawing.answer}.</strong>{' '}
              {climb.data.drawing.because.map((b) => b.text).join('')}
            </p>
          )
        ) : row.accounts === 0 ? (
          <p className="text-ink2">Nobody is here.</p>
        ) : (
          <p>
            {segments.slice(0, 3).map((l, i) => (
              <span key={i}>
                {i > 0 && '; '}
                <strong className="font-semibold">{l.value}</strong> for {formatNumber(l.accounts)} by{' '}
                {l.name ?? 'the catalogue'}
                {l.blockedBy && <span className="text-shut"> (blocked: {l.blockedBy})</span>}
              </span>
            ))}
            {segments.length > 3 && `; and ${segments.length - 3} more`}
          </p>
        )}
        {(setting.needs ?? []).some((n) => 'entitlement' in n) && (
          <Link
            className="quiet text-[13px]"
            to={`/seats${writeQuestion({ who: asked.who, what: asked.what }, '?list=needed')}`}
          >
            What would it take?
          </Link>
        )}
      </div>
      <Stage {...props} />
    </div>
  );
}

/** A value typed for the row: into the policy aimed at exactly it, else into a new one; others with their wider ripple. */
function Stage(props: {
  row: MatrixRowData;
  setting: Setting;
  typed?: CellInput;
  onTyped: (typed: CellInput | undefined) => void;
  onDone: () => void;
}) {
  const { row, setting, typed, onTyped, onDone } = props;
  const { stage } = useDraft();
  const after = useAfterDraft();
  const client = useQueryClient();
  const [refused, setRefused] = useState<{ typed: CellInput; words: string }>();
  const value = typed?.value;
  const asking = value !== undefined || typed?.silent === true;
  const target = `${row.kind}:${row.id}`;
  const question = queryOptions({
    queryKey: ['ways', target, setting.key, value, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/ways', {
          params: {
            query: {
              target,
              setting: setting.key,
              value: value === undefined ? undefined : JSON.stringify(value),
              ...after.query,
            },
          },
        }),
      ),
    staleTime: 10_000,
  });
  const ways = useQuery({ ...question, enabled: asking, placeholderData: (before) => before });
  if (row.more === 'mailing')
    return (
      <p className="text-ink2 max-w-72 text-[13px]">A mailing group cannot be aimed at, so nothing can be set here.</p>
    );
  const offers = asking ? (ways.data?.ways ?? []) : [];
  const first = firstOf(offers);
  const refusal = typed && refused?.typed === typed ? refused.words : undefined;
  const take = async (way: (typeof offers)[number] | undefined) => {
    if (!way || !typed || way.refusal) return;
    const problem = await stage([way.edit]);
    if (problem) setRefused({ typed, words: problemText(problem) });
    else {
      onTyped(undefined);
      onDone();
    }
  };
  // Whoever types fast is ahead of the list of ways: then the first of the list that is on its way is meant.
  const takeFirst = async () => {
    if (asking) await take(firstOf((await client.ensureQueryData(question)).ways));
  };
  return (
    <form
      className="flex max-w-[620px] flex-col gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        void takeFirst();
      }}
    >
      {/* Escape in the control gives the value up. */}
      {/* eslint-disable-next-line jsx-a11y/no-static-element-interactions */}
      <span
        className="flex items-center gap-2"
        onKeyDown={(e) => {
          if (e.key !== 'Escape') return;
          onTyped(undefined);
          onDone();
        }}
      >
        <span className="text-ink2 text-[13px]">{typed?.silent ? 'Said no more, or set to' : 'Set it here to'}</span>
        <ValueControl
          setting={setting}
          title={setting.title}
          value={value}
          refused={refusal !== undefined || first?.refusal !== undefined}
          onChange={(next) => onTyped(next === undefined ? undefined : { text: '', value: next })}
        />
        {first && !first.refusal && (
          <button className="button button-strong" disabled={ways.isPlaceholderData}>
            Add to draft
          </button>
        )}
      </span>
      {typed?.doubt && <p className="text-ink2 text-[13px]">{typed.doubt}</p>}
      {typed?.silent && ways.data && !ways.isPlaceholderData && !first && (
        <p className="text-ink2 text-[13px]">
          No policy aimed at exactly {row.name} sets it{offers.length > 0 ? '; these set it for others too:' : '.'}
        </p>
      )}
      {offers.length > 0 && (
        <ul className="text-[13px]" aria-label="Where it would be said">
          {offers.map((way) => (
            <li key={JSON.stringify(way.edit)} className="flex gap-2">
              {way.refusal ? (
                <span className="text-shut">It {way.refusal}.</span>
              ) : (
                <>
                  <button
                    type="button"
                    className={way === first ? 'quiet font-semibold' : 'quiet'}
                    onClick={() => void take(way)}
                  >
                    {way.excepts
                      ? `as an exception from ${way.name}`
                      : way.fresh
                        ? `in a new policy, “${way.name}”`
                        : `${typed?.silent ? 'no more ' : ''}in ${way.name}`}
                  </button>
                  <span className="text-ink2">
                    {way.ripple?.accounts === 0
                      ? 'changes no value'
                      : `changes ${count(way.ripple?.accounts ?? 0, 'account')}`}
                  </span>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
      <Alert>{refusal}</Alert>
    </form>
  );
}

/** The way that is meant where none is chosen. To say nothing more in a policy for others too is never meant by itself. */
const firstOf = <T extends { first: boolean }>(ways: T[]): T | undefined => ways.find((w) => w.first);
