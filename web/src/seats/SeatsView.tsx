import { clsx } from 'clsx';
import { usePageTitle } from '../parts/usePageTitle';
import { useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { type Edit, type PlanLine, type Schemas, type Session } from '../api/client';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useQuestion, writeQuestion } from '../question/question';
import { capital, count, joinList } from '../text/words';
import { LicenceGap } from './LicenceGap';
import { PlanSheet } from './PlanSheet';
import { usePlans } from '../parts/queries';
import { SeatBar, seatBarText } from './SeatBar';
import { priceWords, termWords } from './words';
import { useStaging } from '../parts/useStaging';

/** Licence plans as strips, the one that is open as a sheet, and what it would take to give something to somebody. */
export function SeatsView({ session }: { session?: Session }) {
  const [question] = useQuestion();
  const plans = usePlans(question);
  const { id } = useParams();
  const { search } = useLocation();
  const navigate = useNavigate();
  const [fresh, setFresh] = useState(false);
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const asks = new URLSearchParams(search).get('list') === 'needed';
  const open = (plan: string | undefined, needed = false) => {
    setFresh(false);
    const path = `/seats${plan ? `/${encodeURIComponent(plan)}` : ''}`;
    void navigate(path + writeQuestion(question, needed ? '?list=needed' : ''));
  };
  usePageTitle('Seats');
  if (plans.isError) return <ErrorNotice error={plans.error} onRetry={() => void plans.refetch()} />;
  const all = plans.data?.plans ?? [];
  const sheetOpen = !asks && (fresh || id !== undefined);
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="All plans"
        className={clsx(
          'flex min-w-0 flex-col',
          sheetOpen ? 'border-line w-[34%] max-w-[460px] border-r max-[1023px]:hidden' : 'flex-1',
        )}
      >
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-5 pt-4 pb-2">
          <h1 className="sr-only">Seats</h1>
          {([false, true] as const).map((needed) => (
            <button
              key={String(needed)}
              aria-pressed={needed === asks}
              className={clsx(
                'font-display py-1 text-[16px] whitespace-nowrap',
                needed === asks ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
              )}
              onClick={() => open(needed ? undefined : id, needed)}
            >
              {needed ? 'What would it take?' : 'Plans'}
            </button>
          ))}
          {!asks && (
            <button
              className="button ml-auto"
              onClick={() => {
                open(undefined);
                setFresh(true);
              }}
            >
              New plan
            </button>
          )}
        </div>
        {asks ? (
          <LicenceGap />
        ) : plans.isPending ? (
          <p className="text-ink2 px-5">Looking…</p>
        ) : all.length === 0 ? (
          <p className="max-w-xl px-5">
            There is no licence plan yet. A plan says how many seats were bought, what a seat carries, and who shall
            have one; begin with “New plan”.
          </p>
        ) : (
          <ul aria-label="Plans" className="min-h-0 flex-1 overflow-y-auto px-5 pb-8">
            {all.map((plan) => (
              <PlanRow key={plan.id} plan={plan} zone={zone} narrow={sheetOpen} chosen={plan.id === id} onOpen={open} />
            ))}
            {!sheetOpen && <PlanFindings findings={plans.data?.findings ?? []} onOpen={open} />}
          </ul>
        )}
      </section>
      {!asks &&
        (fresh ? (
          <NewPlan onClose={() => open(undefined)} onOpen={open} />
        ) : id !== undefined ? (
          <PlanSheet key={id} id={id} zone={zone} onClose={() => open(undefined)} />
        ) : null)}
    </div>
  );
}

/** What is wrong or useless about seats, each with the edit that mends it. */
function PlanFindings(props: { findings: Schemas['PlanList']['findings']; onOpen: (plan: string) => void }) {
  const [stage, refusal] = useStaging('');
  if (props.findings.length === 0) return null;
  return (
    <li className="mt-6">
      <h2 className="font-display text-[16px] font-semibold">Worth looking at</h2>
      {refusal}
      <ul className="border-line mt-1 border-t" aria-label="Worth looking at">
        {props.findings.map((w) => (
          <li key={w.words} className="border-line flex flex-wrap items-center gap-x-4 border-b py-1">
            <button className="min-w-0 flex-1 text-left hover:underline" onClick={() => props.onOpen(w.plan)}>
              {capital(w.words)}.
            </button>
            {w.edit && (
              <button className="button" onClick={() => void stage([w.edit as Edit])}>
                {w.mend}
              </button>
            )}
          </li>
        ))}
      </ul>
    </li>
  );
}

function PlanRow(props: {
  plan: PlanLine;
  zone: string;
  narrow: boolean;
  chosen: boolean;
  onOpen: (plan: string) => void;
}) {
  const { plan, zone } = props;
  const term = termWords(plan, zone);
  return (
    <li className={clsx('border-line border-b', props.chosen && 'bg-well')}>
      <button
        className="hover:bg-well block w-full px-2 py-2.5 text-left"
        aria-current={props.chosen}
        onClick={() => props.onOpen(plan.id)}
      >
        <span className="flex flex-wrap items-baseline gap-x-3">
          <span className="font-display text-[16px] font-semibold">{plan.name}</span>
          <span className={clsx(plan.term === 'over' ? 'text-shut' : 'text-ink2', 'text-[13px]')}>{term}</span>
          <span className="text-ink2 ml-auto text-[13px]">{props.narrow ? '' : priceWords(plan)}</span>
        </span>
        <span className="mt-1 block">
          <SeatBar plan={plan} zone={zone} />
        </span>
        <span className="mt-0.5 flex flex-wrap items-baseline gap-x-3">
          <span className={clsx(plan.waiting > 0 && 'font-semibold')}>{capital(seatBarText(plan, zone))}</span>
          <span className="text-ink2 ml-auto min-w-0 truncate text-[13px]">
            {props.narrow ? count(plan.components.length, 'component') : joinList(plan.components.map((c) => c.name))}
          </span>
        </span>
      </button>
    </li>
  );
}

/** A plan that is begun: it comes into the draft with its name and its seats. */
function NewPlan({ onClose, onOpen }: { onClose: () => void; onOpen: (plan: string) => void }) {
  const [stage, refusal] = useStaging('w-full');
  const [name, setName] = useState('');
  const [seats, setSeats] = useState('');
  const begin = async () => {
    const id =
      name
        .trim()
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-|-$/g, '') || 'plan';
    const plan = { id, name: name.trim(), seats: Number(seats), components: [], rules: [] };
    if (await stage([{ kind: 'add-plan', plan }])) onOpen(id);
  };
  return (
    <section aria-label="New plan" className="flex min-w-0 flex-1 flex-col">
      <div className="border-line flex items-center gap-2 border-b px-6 py-2.5">
        <span className="text-ink2 text-[13px]">A new plan; nobody has a seat until a rule names somebody</span>
        <button className="button ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <form
        className="flex flex-wrap items-end gap-3 px-6 pt-4"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <label>
          <span className="text-ink2 block text-[13px]">Name</span>
          <input className="field w-64" value={name} autoFocus onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span className="text-ink2 block text-[13px]">Seats</span>
          <input
            className="field w-24 text-right"
            inputMode="numeric"
            value={seats}
            onChange={(e) => setSeats(e.target.value.replace(/\D/g, ''))}
          />
        </label>
        <button className="button button-strong" disabled={name.trim() === '' || seats === ''}>
          Create
        </button>
        {refusal}
      </form>
    </section>
  );
}
