import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { unwrap, api } from '../api/client';
import { ErrorNotice } from '../parts/ErrorNotice';
import { DateField } from '../parts/DateField';
import { ValueChanges } from '../parts/ValueChanges';
import { formatWhen } from '../text/dates';
import { capital, count } from '../text/words';

/** Asks for what differs between two days. */
export function Between({ zone, onAsk }: { zone: string; onAsk: (from: string, to: string) => void }) {
  const [open, setOpen] = useState(false);
  const [from, setFrom] = useState<string>();
  const [to, setTo] = useState<string>();
  if (!open)
    return (
      <button className="quiet text-[13px]" onClick={() => setOpen(true)}>
        Compare two days
      </button>
    );
  return (
    <form
      className="mt-2 flex flex-wrap items-baseline gap-2 text-[13px]"
      onSubmit={(e) => {
        e.preventDefault();
        if (from) onAsk(from, to ?? 'now');
      }}
    >
      Compare the end of
      <DateField label="From the end of" zone={zone} of="day" side="past" value={from} onChange={setFrom} />
      with the end of
      <DateField label="Until the end of, or now" zone={zone} of="day" side="past" value={to} onChange={setTo} />
      <button className="button">{to ? 'Compare' : 'Compare with now'}</button>
    </form>
  );
}

/** What differs between two instants: the changes between them, and the values in force then and then. */
export function Differences(props: { from: string; to: string; zone: string; onClose: () => void }) {
  const { from, to, zone } = props;
  const found = useQuery({
    queryKey: ['differences', from, to],
    queryFn: () => unwrap(api.GET('/api/v1/differences', { params: { query: { from, to } } })),
  });
  const words = (when: string) => (when === 'now' ? 'now' : formatWhen(when, zone));
  return (
    <section aria-label="Differences" className="min-w-0 flex-1 overflow-y-auto px-6 pt-4 pb-8">
      <div className="flex items-start gap-3">
        <h2 className="font-display min-w-0 flex-1 text-[19px] font-semibold">
          {capital(words(from))} compared with {words(to)}
        </h2>
        <button className="button" onClick={props.onClose}>
          Close
        </button>
      </div>
      {found.isError ? (
        <ErrorNotice error={found.error} />
      ) : found.data ? (
        <>
          <p className="mb-3">
            {found.data.accounts === 0
              ? 'No account has other values'
              : `${count(found.data.accounts, 'account')} ${found.data.accounts === 1 ? 'has' : 'have'} other values`}
            {found.data.joined > 0 && `, ${found.data.joined} came`}
            {found.data.left > 0 && `, ${found.data.left} went`};{' '}
            {found.data.changes.length === 0
              ? 'nothing was published'
              : `${count(found.data.changes.length, 'change')} ${found.data.changes.length === 1 ? 'was' : 'were'} published`}
            .
          </p>
          {found.data.moves.length > 0 && <ValueChanges moves={found.data.moves} />}
          <ol>
            {found.data.changes.map((c) => (
              <li key={c.number} className="border-line border-b py-1">
                Change {c.number}: {c.title} <span className="text-ink2">— {c.author}</span>
              </li>
            ))}
          </ol>
        </>
      ) : (
        <p className="text-ink2">Comparing…</p>
      )}
    </section>
  );
}
