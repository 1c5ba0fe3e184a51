import { useId } from 'react';
import type { PlanLine } from '../api/client';
import { formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';

const HEIGHT = 22;

/** How a plan's seats lie side by side, in parts of the strip's whole width. */
export function parts(plan: Pick<PlanLine, 'seats' | 'held' | 'free' | 'waiting' | 'lowest' | 'steps'>) {
  const peak = Math.max(plan.seats, ...plan.steps.map((s) => s.seats));
  const whole = Math.max(1, peak, plan.held + Math.max(plan.free, 0) + plan.waiting);
  // Of the seats that end within twelve weeks the free ones go first.
  const ending = Math.max(0, plan.seats - plan.lowest);
  const share = (n: number) => (100 * n) / whole;
  return {
    held: share(plan.held),
    free: share(plan.free),
    waiting: share(plan.waiting),
    ending: share(Math.min(ending, plan.seats)),
    seats: share(plan.seats),
    peak: share(peak),
  };
}

/** A day without its weekday: "2 Dec". */
export const dayOf = (at: string, zone: string): string =>
  (formatInstant(at, zone).split(', ')[0] ?? '').replace(/^\w+ /, '');

/** What the strip says, in words. */
export function seatBarText(plan: PlanLine, zone: string): string {
  const next = plan.steps[0];
  return [
    plan.free === 0 && plan.seats > 0
      ? `all ${count(plan.seats, 'seat')} held`
      : `${formatNumber(plan.held)} of ${count(plan.seats, 'seat')} held`,
    plan.free > 0 ? `${formatNumber(plan.free)} free` : '',
    plan.waiting > 0 ? `${formatNumber(plan.waiting)} waiting` : '',
    next
      ? `${next.seats > plan.seats ? `${formatNumber(next.seats - plan.seats)} more` : `${formatNumber(plan.seats - next.seats)} fewer`} from ${dayOf(next.at, zone)}`
      : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/**
 * The seats of a plan as one strip, to scale: held ones are filled, free ones are empty, those who wait stand behind the end of what
 * was bought, those that end soon are hatched, and what was bought for later is a step.
 */
export function SeatBar({ plan, zone }: { plan: PlanLine; zone: string }) {
  const id = useId();
  const p = parts(plan);
  const over = plan.term === 'over';
  const ink = over ? 'var(--line2)' : 'var(--decide)';
  return (
    <svg
      role="img"
      aria-label={seatBarText(plan, zone)}
      width="100%"
      height={HEIGHT}
      className="block overflow-visible"
    >
      <defs>
        <pattern id={`${id}-end`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="2.5" height="6" fill="var(--sheet)" />
        </pattern>
        <pattern id={`${id}-wait`} width="5" height="5" patternUnits="userSpaceOnUse">
          <rect width="2" height="5" fill="var(--shut)" />
        </pattern>
      </defs>
      {p.peak > p.seats && (
        <rect
          className="settles"
          x={`${p.seats}%`}
          y={HEIGHT - 6}
          width={`${p.peak - p.seats}%`}
          height={5}
          fill="none"
          stroke="var(--decide)"
          strokeDasharray="3 2"
        />
      )}
      <rect x="0" y="3" width={`${p.seats}%`} height={HEIGHT - 8} fill="var(--well)" stroke="var(--line2)" />
      <rect className="settles" x="0" y="3" width={`${p.held}%`} height={HEIGHT - 8} fill={ink} />
      {p.ending > 0 && (
        <rect
          x={`${p.seats - p.ending}%`}
          y="3"
          width={`${p.ending}%`}
          height={HEIGHT - 8}
          fill={`url(#${id}-end)`}
          opacity="0.85"
        />
      )}
      {p.waiting > 0 && (
        <rect
          className="settles"
          x={`${p.held + p.free}%`}
          y="6"
          width={`${p.waiting}%`}
          height={HEIGHT - 14}
          fill={`url(#${id}-wait)`}
        />
      )}
      {plan.seats > 0 && (
        <line x1={`${p.seats}%`} x2={`${p.seats}%`} y1="0" y2={HEIGHT - 2} stroke="var(--ink)" strokeWidth="2" />
      )}
    </svg>
  );
}
