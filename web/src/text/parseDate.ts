import { en } from 'chrono-node';
import { instantOf, wallClock } from './dates';
import { clock } from './clock';

/** Which side of now a day without a year is meant to lie on. */
export type Side = 'past' | 'future';

/** Whether the calendar has this day. */
const isDay = (text: string) => instantOf(`${text}T12:00`, 'UTC')?.slice(0, 10) === text;

const two = (n: number) => String(n).padStart(2, '0');

/** The wall clock of a zone that a text names, "2026-11-26T14:20"; a day alone means its beginning, or as an end that of the next day. */
function wallOf(text: string, zone: string, side: Side, now: Date, until = false): string | undefined {
  const here = wallClock(now.toISOString(), zone);
  const offset = Math.round((Date.parse(`${here}:00Z`) - now.getTime()) / 60_000);
  const [found, ...more] = en.GB.parse(
    text.trim(),
    { instant: now, timezone: offset },
    { forwardDate: side === 'future' },
  );
  if (!found || more.length > 0 || found.end || found.text.length < text.trim().length) return undefined;
  const at = found.start;
  const part = (name: 'month' | 'day' | 'hour' | 'minute') => two(at.get(name) ?? 0);
  let year = at.get('year') ?? 0;
  const time = at.isCertain('hour') ? `${part('hour')}:${part('minute')}` : '00:00';
  const told = () => `${String(year).padStart(4, '0')}-${part('month')}-${part('day')}T${time}`;
  if (side === 'past' && !at.isCertain('year') && told().slice(0, 10) > here.slice(0, 10)) year--;
  if (until && !at.isCertain('hour')) return dayAfter(told().slice(0, 10));
  return told();
}

const dayAfter = (day: string) =>
  `${new Date(Date.parse(`${day}T12:00:00Z`) + 86_400_000).toISOString().slice(0, 10)}T00:00`;

/**
 * The day that a text names, "2026-11-26", by the clock of a zone: "26 nov", "last friday", "2026-11-26".
 *
 * @returns undefined where it names none, or names more than a day
 */
export function parseDay(text: string, zone: string, side: Side = 'past', now = clock()): string | undefined {
  const whole = text.trim();
  if (/^\d{4}-\d\d-\d\d$/.test(whole)) return isDay(whole) ? whole : undefined;
  return wallOf(whole, zone, side, now)?.slice(0, 10);
}

/**
 * The instant that a text names, by the clock of a zone: "tomorrow 8:00", "in 2 weeks", "Thu 26 Nov, 14:20". A day alone means its
 * beginning; with {@code until}, "end of Thu 26 Nov" and the day alone mean that the whole day is included.
 *
 * @returns undefined where it names none
 */
export function parseInstant(
  text: string,
  zone: string,
  side: Side = 'future',
  now = clock(),
  until = false,
): string | undefined {
  const whole = until ? text.trim().replace(/^end of /, '') : text.trim();
  if (until && /^\d{4}-\d\d-\d\d$/.test(whole)) return isDay(whole) ? instantOf(dayAfter(whole), zone) : undefined;
  if (/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(whole)) return instantOf(whole, zone);
  const wall = wallOf(whole.replace(/^(\d{4}-\d\d-\d\d) /, '$1T'), zone, side, now, until);
  return wall === undefined ? undefined : instantOf(wall, zone);
}
