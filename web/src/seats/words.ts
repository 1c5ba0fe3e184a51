import type { PlanLine } from '../api/client';
import { moment } from '../text/dates';
import { count } from '../text/words';

/** Whether the seats of a plan carry anything, and until when. */
export function termWords(plan: Pick<PlanLine, 'term' | 'starts' | 'ends'>, zone: string): string {
  const day = (at: string) => moment(at, zone).split(', ')[0] ?? '';
  if (plan.term === 'over') return `expired ${day(plan.ends ?? '')}: seats carry nothing`;
  if (plan.term === 'to-come') return `begins ${day(plan.starts ?? '')}`;
  if (!plan.ends) return '';
  const days = Math.ceil((Date.parse(plan.ends) - Date.now()) / 86_400_000);
  return days <= 30 ? `ends ${day(plan.ends)}, in ${count(days, 'day')}` : `runs until ${day(plan.ends)}`;
}

/** What a plan costs. */
export const priceWords = (plan: Pick<PlanLine, 'price'>): string =>
  plan.price ? `${plan.price.amount} ${plan.price.currency} a seat each ${plan.price.per}` : '';
