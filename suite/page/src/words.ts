import type { Meant, Value } from './api';

/** An option as a word: options are written with dashes. */
export const option = (id: string) => id.replaceAll('-', ' ');

/** A value as a person reads it. */
export function words(meant: Meant | undefined, value: Value): string {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (Array.isArray(value)) return value.length === 0 ? 'nothing' : value.join(', ');
  if (typeof value === 'number')
    return meant?.unit ? `${value} ${value === 1 ? meant.unit.replace(/s$/, '') : meant.unit}` : String(value);
  if (typeof value === 'object') return value.alt || 'a picture';
  return meant?.type === 'choice' ? option(value) : value;
}

/** "a, b and c". */
export const listed = (words: string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

const MOMENT = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});
const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

export const moment = (at: string) => MOMENT.format(new Date(at));
export const day = (at: string) => DAY.format(new Date(at));
export const time = (at: string) => TIME.format(new Date(at));
