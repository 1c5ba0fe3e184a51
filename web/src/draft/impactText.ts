import { clock } from '../text/clock';
import { formatInstant } from '../text/dates';
import type { RippleCounts } from '../api/client';
import { count, formatNumber, joinList } from '../text/words';

/** "1 person", "57 people": whom a ripple affects, rooms and services counted among them. */
export const people = (n: number): string => `${formatNumber(n)} ${n === 1 ? 'person' : 'people'}`;

/** The ripple in words: "118 people affected", and its parts. */
export function impactText(ripple: RippleCounts): { head: string; parts: string } {
  const n = (k: number) => formatNumber(k);
  const parts = [
    ripple.lose > 0 && `${n(ripple.lose)} ${ripple.lose === 1 ? 'loses' : 'lose'}`,
    ripple.gain > 0 && `${n(ripple.gain)} ${ripple.gain === 1 ? 'gains' : 'gain'}`,
    ripple.both > 0 &&
      `${n(ripple.both)} ${ripple.both === 1 ? 'gains some and loses some' : 'gain some and lose some'}`,
    ripple.other > 0 && count(ripple.other, 'other change'),
    (ripple.joining ?? 0) > 0 && `${n(ripple.joining ?? 0)} new`,
    (ripple.leaving ?? 0) > 0 && `${n(ripple.leaving ?? 0)} gone`,
    (ripple.blocked ?? 0) > 0 && `${n(ripple.blocked ?? 0)} still blocked`,
    ...(ripple.waiting ?? []).map((w) => `${w.plan}: ${n(w.more)} more ${w.more === 1 ? 'waits' : 'wait'} for a seat`),
    ripple.accounts === 0 && ripple.decidedElsewhere > 0 && `no visible change for ${n(ripple.decidedElsewhere)}`,
    ...ripple.inWorkspaces.map((w) => `in ${w.name}: ${people(w.accounts)}`),
  ].filter((p): p is string => typeof p === 'string');
  const inside = ripple.inWorkspaces.length > 0;
  const none = inside ? 'No value changes outside workspaces' : 'No value changes';
  const head = ripple.accounts === 0 ? none : `${people(ripple.accounts)} affected`;
  return { head, parts: parts.join(' · ') };
}

/** "3 gain, 2 lose and 1 other change", for reading. */
export function impactSentence(ripple: RippleCounts): string {
  return joinList(
    (
      [
        [ripple.lose, 'lose', 'loses'],
        [ripple.gain, 'gain', 'gains'],
        [ripple.both, 'gain some and lose some', 'gains some and loses some'],
        [ripple.other, 'other changes', 'other change'],
      ] as const
    )
      .filter(([n]) => n > 0)
      .map(([n, many, one]) => `${formatNumber(n)} ${n === 1 ? one : many}`),
  );
}

/** "In Timetable room, 4 people are affected.", for reading; nothing where nobody is. */
export const inWorkspacesText = (ripple: RippleCounts): string =>
  ripple.inWorkspaces
    .map((w) => `In ${w.name}, ${people(w.accounts)} ${w.accounts === 1 ? 'is' : 'are'} affected.`)
    .join(' ');

/** When it will have taken effect: "at once", "5 to 60 minutes". */
export function settlingText(least: number, most: number): string {
  const span = (m: number) =>
    m >= 1440 && m % 1440 === 0
      ? count(m / 1440, 'day')
      : m >= 120 && m % 60 === 0
        ? count(m / 60, 'hour')
        : count(m, 'minute');
  if (most === 0) return 'at once';
  if (least === most || least === 0) return `within ${span(most)}`;
  const [low, unit] = span(least).split(' ');
  const high = span(most);
  // One unit of measure is told once: "5 to 60 minutes".
  return unit === high.split(' ')[1] ? `after ${low} to ${high}` : `after ${span(least)} to ${high}`;
}

/** Why a draft that was scheduled could not publish itself, or will not. */
export const stuckText = (draft: { due: string | null; stuck: string | null }, zone: string): string =>
  draft.due && Date.parse(draft.due) > clock().getTime()
    ? `It will not publish itself on ${formatInstant(draft.due, zone)}: ${draft.stuck ?? ''}`
    : `It could not publish itself: ${draft.stuck ?? ''}`;
