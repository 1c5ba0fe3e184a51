import type { PlanLine } from '../api/client';
import { DAY_MS, inDays, formatInstant } from '../text/dates';
import { clock } from '../text/clock';

/** Whether the seats of a plan carry anything, and until when. */
export function termWords(plan: Pick<PlanLine, 'term' | 'starts' | 'ends'>, zone: string): string {
  const day = (at: string) => formatInstant(at, zone).split(', ')[0] ?? '';
  if (plan.term === 'over') return `expired ${day(plan.ends ?? '')}: seats carry nothing`;
  if (plan.term === 'to-come') return `begins ${day(plan.starts ?? '')}`;
  if (!plan.ends) return '';
  const soon = Date.parse(plan.ends) - clock().getTime() <= 30 * DAY_MS;
  return soon ? `ends ${day(plan.ends)}, ${inDays(plan.ends, zone)}` : `runs until ${day(plan.ends)}`;
}

/** What a plan costs. */
export const priceWords = (plan: Pick<PlanLine, 'price'>): string =>
  plan.price ? `${plan.price.amount} ${plan.price.currency} a seat each ${plan.price.per}` : '';
