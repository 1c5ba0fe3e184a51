import { Popover } from 'radix-ui';
import { clsx } from 'clsx';
import { useId, useState } from 'react';
import { instantOf, formatInstant, wallClock, formatWhen } from '../text/dates';
import { parseDay, parseInstant, type Side } from '../text/parseDate';
import { PopoverPanel } from './PopoverPanel';
import { now } from '../text/clock';

/** What a field of dates holds: a day "2026-11-26", or an instant. */
export interface DateFieldProps {
  label: string;
  zone: string;
  /** Whether a day or an instant is asked for. */
  of: 'day' | 'instant';
  /** On which side of now it must lie; on either when left out. */
  side?: Side;
  /** Whether it is an end: a day alone includes that whole day. */
  until?: boolean;
  value: string | undefined;
  /** Takes what was read, on Enter or when the field is left; undefined where nothing is typed, or nothing that can be read. */
  onChange: (value: string | undefined) => void;
  className?: string;
}

const EXAMPLES = { day: '“20 nov” or “last friday”', instant: '“26 nov”, “tomorrow 8:00” or “in 2 weeks”' };

/** A day or an instant, typed as people write it or picked from a month; what it was read as stands in the field afterwards. */
export function DateField(props: DateFieldProps) {
  const { of, zone, side, value } = props;
  const id = useId();
  const shown = value === undefined ? '' : wordsOf(value, of, zone, props.until);
  const [typed, setTyped] = useState<string>();
  const [open, setOpen] = useState(false);
  const text = typed ?? shown;
  const parse = (next: string) =>
    of === 'day' ? parseDay(next, zone, side) : parseInstant(next, zone, side, undefined, props.until);
  const reading = typed === undefined ? undefined : parse(typed);
  const unreadable = typed !== undefined && typed.trim() !== '' && reading === undefined;
  // What is half typed is no date yet: "20 d" on the way to "20 dec" must not count as one.
  const commit = () => {
    if (typed === undefined) return;
    if (!unreadable) setTyped(undefined);
    if (reading !== value) props.onChange(reading);
  };
  const pick = (day: string) => {
    setTyped(undefined);
    setOpen(false);
    if (of === 'day') props.onChange(day);
    else if (props.until) props.onChange(parseInstant(day, zone, side, undefined, true));
    else props.onChange(instantOf(`${day}T${value ? wallClock(value, zone).slice(11) : '00:00'}`, zone));
  };
  return (
    <span className={clsx('inline-block', props.className)}>
      <span className="flex">
        <input
          className="field w-full min-w-44 rounded-r-none"
          aria-label={props.label}
          aria-invalid={unreadable}
          aria-describedby={`${id}-read`}
          autoComplete="off"
          spellCheck={false}
          placeholder={of === 'day' ? 'a day' : 'a day and a time'}
          value={text}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' || typed === undefined) return;
            // Enter takes the date; it does not send the form that the field is in.
            e.preventDefault();
            commit();
          }}
        />
        <Popover.Root open={open} onOpenChange={setOpen}>
          <Popover.Trigger
            type="button"
            className="border-line2 hover:bg-well -ml-px grid w-8 shrink-0 place-items-center rounded-r-[3px] border"
            aria-label={`${props.label}: pick from a month`}
          >
            <svg
              width="14"
              height="14"
              viewBox="0 0 14 14"
              fill="none"
              stroke="currentColor"
              strokeWidth="1.5"
              aria-hidden
            >
              <path d="M1.5 3h11v9.5h-11zM1.5 6h11M4.5 1v3M9.5 1v3" />
            </svg>
          </Popover.Trigger>
          <PopoverPanel label={`${props.label}: month`} className="p-2">
            <Month zone={zone} side={side} of={of} value={value} onPick={pick} />
          </PopoverPanel>
        </Popover.Root>
      </span>
      <span id={`${id}-read`} className={clsx('block min-h-5 text-[13px]', unreadable ? 'text-shut' : 'text-ink2')}>
        {unreadable ? `Type ${EXAMPLES[of]}.` : reading !== undefined ? wordsOf(reading, of, zone, props.until) : ''}
      </span>
    </span>
  );
}

function wordsOf(value: string, of: 'day' | 'instant', zone: string, until = false): string {
  if (until && of === 'instant' && wallClock(value, zone).endsWith('T00:00'))
    return `${formatWhen(wallClock(new Date(Date.parse(value) - 1).toISOString(), zone).slice(0, 10), zone)}`;
  return of === 'day' ? formatWhen(value, zone).replace(/^end of /, '') : formatInstant(value, zone);
}

const NAMES = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', month: 'long', year: 'numeric' });

/** One month, weeks from Monday, with what lies on the wrong side of today out of reach. */
function Month(props: {
  zone: string;
  side?: Side;
  of: 'day' | 'instant';
  value: string | undefined;
  onPick: (day: string) => void;
}) {
  const today = wallClock(now(), props.zone).slice(0, 10);
  const chosen =
    props.value === undefined
      ? undefined
      : props.of === 'day'
        ? props.value
        : wallClock(props.value, props.zone).slice(0, 10);
  const [month, setMonth] = useState((chosen ?? today).slice(0, 7));
  const first = new Date(`${month}-01T12:00:00Z`);
  const before = (first.getUTCDay() + 6) % 7;
  const length = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
  const turn = (by: number) =>
    setMonth(new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + by, 1, 12)).toISOString().slice(0, 7));
  const days = Array.from({ length }, (_, i) => `${month}-${String(i + 1).padStart(2, '0')}`);
  return (
    <div className="w-60">
      <div className="flex items-center">
        <button type="button" className="button" aria-label="The month before" onClick={() => turn(-1)}>
          ‹
        </button>
        <span className="flex-1 text-center font-semibold" aria-live="polite">
          {NAMES.format(first)}
        </span>
        <button type="button" className="button" aria-label="The month after" onClick={() => turn(1)}>
          ›
        </button>
      </div>
      <div className="text-ink2 mt-2 grid grid-cols-7 text-center text-[12px]" aria-hidden>
        {['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].map((d) => (
          <span key={d}>{d}</span>
        ))}
      </div>
      <div className="grid grid-cols-7 text-center">
        {days.map((day, i) => (
          <button
            key={day}
            type="button"
            style={i === 0 ? { gridColumnStart: before + 1 } : undefined}
            aria-label={wordsOf(day, 'day', props.zone)}
            aria-current={day === today ? 'date' : undefined}
            aria-pressed={day === chosen}
            disabled={(props.side === 'past' && day > today) || (props.side === 'future' && day < today)}
            className={clsx(
              'h-8 rounded-[3px] enabled:hover:bg-well disabled:opacity-35',
              day === today && 'font-bold underline underline-offset-4',
              day === chosen && 'bg-decide text-on-decide',
            )}
            onClick={() => props.onPick(day)}
          >
            {i + 1}
          </button>
        ))}
      </div>
    </div>
  );
}
