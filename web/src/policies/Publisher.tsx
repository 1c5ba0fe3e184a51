import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useEffect, useState } from 'react';
import { Refused, answer, api, type Problem, type PublishedReceipt, type Ripple } from '../api/client';
import { count } from '../text/words';
import { Clash } from './Clash';
import { inWords, type Planned } from './edits';
import { ReadOver, Receipt } from './ReadOver';

const SETTLE_MS = 180;
const NOTHING: Planned[] = [];

/** A value that follows another once it has rested for a moment. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), SETTLE_MS);
    return () => window.clearTimeout(timer);
  }, [value]);
  return rested;
}

/** The ripple of edits, worked out by the server; nothing is stored. */
export function useRipple(base: number, planned: Planned[]) {
  const text = useRested(JSON.stringify(planned.map((p) => p.edit)));
  return useQuery<Ripple, Refused>({
    queryKey: ['ripple', base, text],
    queryFn: () =>
      answer(
        api.POST('/api/v1/changes', {
          params: { query: { preview: true, limit: 5000 } },
          body: { base, edits: JSON.parse(text) as Planned['edit'][] },
        }),
      ) as Promise<Ripple>,
    enabled: text !== '[]',
    placeholderData: keepPreviousData,
  });
}

/** What is to be published, and what to do when it is or is not. */
export interface Props {
  base: number;
  planned: Planned[];
  title: string;
  zone: string;
  onDiscard: () => void;
  onPublished: (receipt: PublishedReceipt) => void;
  onProblem?: (problem: Problem | undefined) => void;
  /** Whether to start with reading over, because nothing is left to edit. */
  finished?: boolean;
}

/** The tray along the bottom: the edits in words and what they would change; from here one reads over and publishes. */
export function Publisher(props: Props) {
  const [base, setBase] = useState(props.base);
  const [done, setDone] = useState<PublishedReceipt>();
  // What is published has no ripple any more: the edits stand in the base.
  const ripple = useRipple(base, done ? NOTHING : props.planned);
  const [reading, setReading] = useState(props.finished ?? false);
  const problem = done ? undefined : ripple.error?.problem;
  const { onProblem } = props;
  useEffect(() => onProblem?.(problem), [problem, onProblem]);
  if (done) return <Receipt receipt={done} zone={props.zone} onClose={() => props.onPublished(done)} />;
  return (
    <>
      {reading && ripple.data && !problem && (
        <ReadOver
          {...props}
          base={base}
          ripple={ripple.data}
          onMoved={setBase}
          onDone={setDone}
          onBack={() => setReading(false)}
        />
      )}
      {problem?.status === 409 && (
        <Clash problem={problem} onMine={() => setBase(problem.change ?? base)} onTheirs={props.onDiscard} />
      )}
      <div
        role="region"
        aria-label="Draft"
        className="border-draft bg-draft-ground text-on-draft flex min-h-12 shrink-0 flex-wrap items-center gap-x-5 gap-y-1 border-t-[3px] px-5 py-1.5"
      >
        <span className="font-semibold">{inWords(props.planned)}</span>
        <span data-testid="ripple" className={clsx(ripple.isPlaceholderData && 'opacity-60')}>
          {problem ? (
            <span>
              {problem.status === 409
                ? 'Somebody published the same parts meanwhile'
                : 'Something does not fit; see above'}
            </span>
          ) : ripple.data ? (
            <Numbers ripple={ripple.data} />
          ) : (
            'Working out what changes…'
          )}
        </span>
        <span className="ml-auto flex gap-2">
          <button className="h-8 rounded-[3px] px-3 underline underline-offset-4" onClick={props.onDiscard}>
            Discard
          </button>
          {!reading && (
            <button
              className="bg-draft h-8 rounded-[3px] px-4 font-semibold text-white disabled:opacity-60 dark:text-white"
              disabled={!ripple.data || problem !== undefined}
              onClick={() => setReading(true)}
            >
              Read over
            </button>
          )}
        </span>
      </div>
    </>
  );
}

function Numbers({ ripple }: { ripple: Ripple }) {
  if (ripple.accounts === 0)
    return (
      <>
        <strong>No value changes</strong>
        {ripple.decidedElsewhere > 0 && <> · decided elsewhere for {ripple.decidedElsewhere}</>}
      </>
    );
  const parts = [
    ripple.lose > 0 && `${ripple.lose} lose`,
    ripple.gain > 0 && `${ripple.gain} gain`,
    ripple.both > 0 && `${ripple.both} both`,
    ripple.other > 0 && `${ripple.other} otherwise`,
  ].filter(Boolean);
  return (
    <>
      <strong>
        {count(ripple.accounts, 'account')} {ripple.accounts === 1 ? 'changes' : 'change'}
      </strong>{' '}
      · {parts.join(' · ')}
    </>
  );
}
