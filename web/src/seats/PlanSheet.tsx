import { useState } from 'react';
import { useNavigate } from 'react-router';
import { type Edit, type PlanView } from '../api/client';
import { useCatalogue } from '../parts/queries';
import { DateField } from '../parts/DateField';
import { PasteAccounts } from '../parts/PasteAccounts';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useQuestion, writeQuestion } from '../question/question';
import { now } from '../text/clock';
import { formatInstant } from '../text/dates';
import { capital, count, formatNumber } from '../text/words';
import { SeatHolders } from './SeatHolders';
import { SeatForecastChart } from './SeatForecastChart';
import { PlanFile } from './PlanFile';
import { Rules } from './Rules';
import { priceWords, termWords } from './words';
import { SeatBar, seatBarText } from './SeatBar';
import { useLedgerMoves, usePlan } from './queries';
import { EditableText } from '../parts/EditableText';
import { History } from '../parts/History';
import { Select } from '../parts/Select';
import { useStaging } from '../parts/useStaging';

/** A plan opened as a sheet: its seats, what comes, for whom it is, who holds and who waits. Edits go into the draft. */
export function PlanSheet(props: { id: string; zone: string; onClose: () => void }) {
  const { id, zone } = props;
  const [question] = useQuestion();
  const plan = usePlan(id, question);
  const [edit, refusal] = useStaging();
  if (plan.isError && !plan.data)
    return (
      <div className="flex-1">
        <ErrorNotice error={plan.error} onRetry={() => void plan.refetch()} />
        <button className="button mx-8" onClick={props.onClose}>
          Close
        </button>
      </div>
    );
  if (!plan.data) return <p className="text-ink2 flex-1 p-6">Looking…</p>;
  const { plan: line, purchases, rules, course, places } = plan.data;
  return (
    <section aria-label={`Plan ${line.name}`} className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="border-line flex flex-wrap items-center gap-2 border-b px-6 py-2.5">
        <span className={line.term === 'over' ? 'text-shut text-[13px]' : 'text-ink2 text-[13px]'}>
          {[termWords(line, zone), priceWords(line)].filter(Boolean).map(capital).join(' · ') ||
            'A plan without an end'}
        </span>
        <span className="ml-auto flex gap-2">
          <button
            className="button"
            onClick={() => void edit([{ kind: 'remove-plan', plan: id }]).then((done) => done && props.onClose())}
          >
            Delete
          </button>
          <button className="button" onClick={props.onClose}>
            Close
          </button>
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 pt-4 pb-8 min-[1600px]:grid min-[1600px]:grid-cols-[minmax(0,3fr)_minmax(0,2fr)] min-[1600px]:gap-x-12">
        <div className="max-w-4xl min-w-0">
          <EditableText
            label="Name of the plan"
            className="font-display text-[20px] font-semibold"
            value={line.name}
            onCommit={(name) => name.trim() !== '' && void edit([amend(id, { name: name.trim() })])}
          />
          <div className="mt-2">
            <SeatBar plan={line} zone={zone} />
            <p className="mt-1">
              <strong className="font-semibold">{capital(seatBarText(line, zone))}.</strong>
            </p>
          </div>
          {refusal}
          <BuyOrReturn plan={id} zone={zone} onEdit={edit} />
          <Components line={line} onEdit={(components) => void edit([amend(id, { components })])} />
          <SeatForecastChart course={course} zone={zone} />
          <Rules
            plan={id}
            rules={rules}
            components={line.components}
            zone={zone}
            onEdit={(edits) => void edit(edits)}
          />
          <SeatHolders key={String(line.waiting > 0)} plan={line} zone={zone} onEdit={(edits) => void edit(edits)} />
          <PasteAccounts plan={id} name={line.name} />
        </div>
        <div className="max-w-4xl min-w-0">
          <Places places={places} />
          <Purchases purchases={purchases} plan={id} zone={zone} />
          <Moves plan={id} zone={zone} />
          <History about={{ plan: id }} zone={zone} heading="h2" />
        </div>
      </div>
    </section>
  );
}

const amend = (plan: string, members: Record<string, unknown>): Edit => ({ kind: 'amend-plan', plan, members });

/** Buys seats from a day on, for good or until another, or gives some back. */
function BuyOrReturn(props: { plan: string; zone: string; onEdit: (edits: Edit[]) => Promise<boolean> }) {
  const [seats, setSeats] = useState('');
  const [from, setFrom] = useState<string>();
  const [until, setUntil] = useState<string>();
  const [round, setRound] = useState(0);
  const count = Number(seats);
  const done = (ok: boolean) => {
    if (!ok) return;
    setSeats('');
    setFrom(undefined);
    setUntil(undefined);
    setRound((n) => n + 1);
  };
  const buy = () => {
    const purchase = { seats: count, ...(from && { from }), ...(until && { until }) };
    void props.onEdit([{ kind: 'buy-seats', plan: props.plan, purchase }]).then(done);
  };
  const back = () =>
    void props.onEdit([{ kind: 'return-seats', plan: props.plan, seats: count, from: from ?? now() }]).then(done);
  return (
    <form
      className="mt-3 flex flex-wrap items-start gap-2"
      onSubmit={(e) => e.preventDefault()}
      aria-label="Buy or return seats"
    >
      <input
        className="field w-20 text-right"
        aria-label="How many seats"
        placeholder="seats"
        inputMode="numeric"
        value={seats}
        onChange={(e) => setSeats(e.target.value.replace(/\D/g, ''))}
      />
      <span className="text-ink2 py-1.5">from</span>
      <DateField
        key={round}
        label="From when"
        zone={props.zone}
        of="instant"
        side="future"
        value={from}
        onChange={setFrom}
      />
      <span className="text-ink2 py-1.5">until</span>
      <DateField
        key={-round - 1}
        label="Until when"
        zone={props.zone}
        of="instant"
        until
        side="future"
        value={until}
        onChange={setUntil}
      />
      <button className="button" disabled={count === 0} onClick={buy}>
        Buy
      </button>
      <button
        className="button"
        disabled={count === 0 || until !== undefined}
        title={until === undefined ? undefined : 'Seats are given back for good: leave “until” empty'}
        onClick={back}
      >
        Give back
      </button>
    </form>
  );
}

/** What a seat carries, in words; a press leaves one out for everybody, the field adds one. */
function Components(props: { line: PlanView['plan']; onEdit: (components: string[]) => void }) {
  const catalogue = useCatalogue();
  const [question] = useQuestion();
  const navigate = useNavigate();
  const ids = props.line.components.map((c) => c.id);
  const others = catalogue.data?.entitlements.filter((e) => !ids.includes(e.id)) ?? [];
  return (
    <section aria-label="Components">
      <h2 className="font-display mt-5 text-[16px] font-semibold">A seat carries</h2>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {props.line.components.map((c) => (
          <li key={c.id} className="border-line2 bg-paper flex items-center rounded-[3px] border">
            <span className="px-2 py-0.5">{c.name}</span>
            <button
              className="border-line2 hover:bg-well border-l px-1.5 py-0.5"
              aria-label={`Take ${c.name} out of the plan`}
              onClick={() => props.onEdit(ids.filter((id) => id !== c.id))}
            >
              ×
            </button>
          </li>
        ))}
        {ids.length === 0 && <li className="text-ink2">Nothing yet.</li>}
        {others.length > 0 && (
          <li>
            <Select
              label="Add a component"
              className="h-7"
              value=""
              placeholder="Add…"
              options={others.map((e) => ({ value: e.id, label: e.name }))}
              onChange={(v) => props.onEdit([...ids, v])}
            />
          </li>
        )}
      </ul>
      <button
        className="quiet mt-1.5 text-[13px]"
        onClick={() => void navigate(`/seats${writeQuestion(question, '?list=needed')}`)}
      >
        What would it take to give more people something?
      </button>
    </section>
  );
}

/** Where the seats sit: the tree of units, each with how many hold one, to one scale. */
function Places({ places }: { places: PlanView['places'] }) {
  const [question] = useQuestion();
  const navigate = useNavigate();
  if (places.length === 0) return null;
  const most = Math.max(...places.map((p) => p.held + p.waiting));
  return (
    <section aria-label="Where the seats sit">
      <h2 className="font-display mt-6 text-[16px] font-semibold">Where the seats sit</h2>
      <ul className="border-line mt-1 border-t sm:columns-2 sm:gap-8">
        {places.map((p) => (
          <li key={p.unit} className="border-line break-inside-avoid border-b">
            <button
              className="hover:bg-well block w-full py-1 text-left"
              style={{ paddingLeft: p.depth * 14 }}
              title="To the matrix of this unit"
              onClick={() =>
                void navigate(`/matrix${writeQuestion({ ...question, who: { kind: 'unit', id: p.unit } })}`)
              }
            >
              <span className="flex items-baseline gap-2">
                <span className={p.depth === 0 ? 'min-w-0 flex-1 truncate font-semibold' : 'min-w-0 flex-1 truncate'}>
                  {p.name}
                </span>
                {p.waiting > 0 && <span className="text-shut text-[13px]">{formatNumber(p.waiting)} waiting</span>}
                <span>{formatNumber(p.held)}</span>
                <span className="text-ink2 text-[13px]">of {formatNumber(p.accounts)}</span>
              </span>
              <span
                className="mt-0.5 flex h-1.5"
                style={{ width: `${Math.max(1, (100 * (p.held + p.waiting)) / most)}%` }}
              >
                <span
                  className="bg-decide settles"
                  style={{ width: `${(100 * p.held) / Math.max(1, p.held + p.waiting)}%` }}
                />
                <span className="bg-shut settles flex-1 opacity-60" />
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Purchases(props: { purchases: PlanView['purchases']; plan: string; zone: string }) {
  const [reading, setReading] = useState(false);
  return (
    <section aria-label="Purchases">
      <h2 className="font-display mt-6 flex items-baseline text-[16px] font-semibold">
        Bought
        <span className="ml-auto flex gap-4 text-[13px] font-normal">
          <button className="quiet" aria-expanded={reading} onClick={() => setReading(!reading)}>
            From a file
          </button>
          <a className="quiet" href={`/api/v1/plans/${encodeURIComponent(props.plan)}/purchases?format=csv`}>
            As CSV
          </a>
        </span>
      </h2>
      {reading && <PlanFile plan={props.plan} what="purchases" onClose={() => setReading(false)} />}
      {props.purchases.length === 0 && (
        <p className="text-ink2">The plan has a plain number of seats; the next purchase makes a list of it.</p>
      )}
      <ul className="border-line mt-1 border-t empty:border-0">
        {props.purchases.map((p, i) => (
          <li key={i} className="border-line flex flex-wrap gap-x-4 border-b py-1">
            <strong className="w-24 shrink-0 text-right font-semibold">{count(p.seats, 'seat')}</strong>
            <span className="min-w-0 flex-1">
              {p.from ? `from ${formatInstant(p.from, props.zone)}` : 'from the beginning'}
              {p.until && ` until ${formatInstant(p.until, props.zone)}`}
              {!p.holds && <span className="text-ink2"> · not now</span>}
            </span>
            <span className="text-ink2 text-[13px]">{p.note}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What became of the seats, the newest first, each with the reason. */
function Moves({ plan, zone }: { plan: string; zone: string }) {
  const moves = useLedgerMoves(plan);
  const [question] = useQuestion();
  const navigate = useNavigate();
  const [all, setAll] = useState(false);
  const told = moves.data?.moves ?? [];
  if (told.length === 0) return null;
  return (
    <section aria-label="What became of the seats">
      <h2 className="font-display mt-6 text-[16px] font-semibold">What became of the seats</h2>
      <ul className="border-line mt-1 border-t">
        {told.slice(0, all ? undefined : 8).map((m, i) => (
          <li key={i} className="border-line flex flex-wrap gap-x-3 border-b py-1">
            <span className="text-ink2 w-36 shrink-0">{formatInstant(m.at, zone)}</span>
            <span className="min-w-0 flex-1">
              <strong className="font-semibold">{m.displayName}</strong>{' '}
              {m.given ? 'was given a seat' : 'gave a seat back'}
              {m.because && `, because ${m.because}`}
            </span>
            <button
              className="quiet text-[13px]"
              onClick={() => void navigate(`/logbook/${m.change}${writeQuestion(question)}`)}
            >
              change {m.change}
            </button>
          </li>
        ))}
      </ul>
      {told.length > 8 && (
        <button className="quiet mt-1 text-[13px]" onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All of the last ${told.length}`}
        </button>
      )}
    </section>
  );
}
