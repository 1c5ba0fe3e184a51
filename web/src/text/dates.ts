import { clock } from './clock';

/** Milliseconds of a day. */
export const DAY_MS = 86_400_000;

/** A moment as people here read it: "Thu 26 Nov, 14:20", with the year when it is not this one. */
export function formatInstant(instant: string, zone: string, now = clock()): string {
  const at = new Date(instant);
  const part = (options: Intl.DateTimeFormatOptions, date = at) =>
    new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options }).format(date);
  const year = part({ year: 'numeric' });
  const formatDay = part({ weekday: 'short', day: 'numeric', month: 'short' }).replace(',', '').replace('Sept', 'Sep');
  const time = part({ hour: '2-digit', minute: '2-digit', hourCycle: 'h23' });
  return `${formatDay}${year === part({ year: 'numeric' }, now) ? '' : ` ${year}`}, ${time}`;
}

/** A day such as "12 Dec 2023", from "2023-12-12"; its parts stay together. */
export function day(text: string): string {
  const told = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', day: 'numeric', month: 'short', year: 'numeric' });
  return told
    .format(new Date(`${text}T12:00:00Z`))
    .replace('Sept', 'Sep')
    .replaceAll(' ', '\u00a0');
}

/** The wall clock of a zone at an instant, as an input of date and time writes it: "2026-11-26T14:20". */
export function wallClock(instant: string, zone: string): string {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(new Date(instant));
  const get = (type: string) => parts.find((p) => p.type === type)?.value ?? '';
  return `${get('year').padStart(4, '0')}-${get('month')}-${get('day')}T${get('hour')}:${get('minute')}`;
}

/** In how many days an instant is, by the calendar of a zone: "today", "tomorrow", "in 4 days". */
export function inDays(instant: string, zone: string, now = clock()): string {
  const date = (at: string) => Date.parse(wallClock(at, zone).slice(0, 10));
  const days = Math.round((date(instant) - date(now.toISOString())) / DAY_MS);
  return days <= 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`;
}

/** The instant at which the wall clock of a zone shows this; undefined when the text is no date and time. */
export function instantOf(wall: string, zone: string): string | undefined {
  const asUtc = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(wall) ? Date.parse(`${wall}:00Z`) : NaN;
  if (Number.isNaN(asUtc)) return undefined;
  // The zone's offset is looked up at the guess and once more at its correction, which settles changes of summer time.
  let guess = asUtc;
  for (let i = 0; i < 2; i++) {
    const shown = Date.parse(`${wallClock(new Date(guess).toISOString(), zone)}:00Z`);
    guess += asUtc - shown;
  }
  return new Date(guess).toISOString().replace('.000Z', 'Z');
}

const DAY = /^\d{4}-\d\d-\d\d$/;

/** What a question's When reads as: "end of Fri 20 Nov", "Thu 26 Nov, 14:20". */
export function formatWhen(when: string, zone: string, now = clock()): string {
  if (!DAY.test(when)) return formatInstant(when, zone, now);
  return `end of ${formatInstant(`${when}T12:00:00Z`, 'UTC', now).replace(/, \d\d:\d\d$/, '')}`;
}

/** Whether a question's When lies before this moment; a day lasts until its end in the zone. */
export function isPast(when: string, zone: string, now = clock()): boolean {
  const today = wallClock(now.toISOString(), zone).slice(0, 10);
  return DAY.test(when) ? when < today : Date.parse(when) < now.getTime();
}

/** Whether this browser knows the time zone. */
export function isZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en-GB', { timeZone: zone }).resolvedOptions().timeZone !== '';
  } catch (unknown) {
    if (unknown instanceof RangeError) return false;
    throw unknown;
  }
}

/** A window in words: "from Mon 23 Nov, 14:20 until ..."; empty when it always counts. */
export const formatWindow = (window: { from?: string; until?: string }, zone: string): string =>
  [
    window.from && `from ${formatInstant(window.from, zone)}`,
    window.until && `until ${formatInstant(window.until, zone)}`,
  ]
    .filter(Boolean)
    .join(' ');
