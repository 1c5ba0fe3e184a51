import type { Meant, Value } from './api';

/** An option as a word: options are written with dashes. */
export const option = (id: string) => id.replaceAll('-', ' ');

/** A text as it is; nothing where a value is none. */
export const text = (value: Value): string => (typeof value === 'string' ? value : '');

/** A value as a person reads it. @param names what units, groups and people are called */
export function words(meant: Meant | undefined, value: Value, names: Record<string, string> = {}): string {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (Array.isArray(value)) {
    if (value.length === 0) return meant?.type === 'people' ? 'nobody' : 'nothing';
    return meant?.type === 'people' ? listed(value.map((target) => names[target] ?? 'somebody')) : value.join(', ');
  }
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
