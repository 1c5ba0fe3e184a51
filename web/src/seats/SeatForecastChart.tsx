import { clsx } from 'clsx';
import type { PlanView } from '../api/client';
import { DAY_MS, formatInstant } from '../text/dates';
import { formatNumber } from '../text/words';

const WEEKS = 12;
const WIDTH = 720;
const HEIGHT = 78;
const TOP = 10;
const FLOOR = HEIGHT - 2;

/** Where points of the coming twelve weeks lie. */
export function scales(course: PlanView['course']) {
  const start = Date.parse(course[0]?.at ?? '');
  const most = Math.max(1, ...course.map((p) => Math.max(p.seats, p.held + p.waiting)));
  return {
    x: (at: number) => ((at - start) / (WEEKS * 7 * DAY_MS)) * WIDTH,
    y: (n: number) => FLOOR - (n / most) * (FLOOR - TOP),
    start,
  };
}

/** A line that goes on level and steps at each point. */
export function steps(course: PlanView['course'], of: (point: PlanView['course'][number]) => number): string {
  const { x, y } = scales(course);
  return (
    course
      .map(
        (p, i) =>
          `${i === 0 ? 'M' : 'H'}${x(Date.parse(p.at)).toFixed(1)}${i === 0 ? ` ${y(of(p)).toFixed(1)}` : `V${y(of(p)).toFixed(1)}`}`,
      )
      .join('') + `H${WIDTH}`
  );
}

/** A day as short as it can be: the next twelve weeks need no year. */
const tick = (at: number, zone: string) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short' }).format(at);

/** The coming twelve weeks of a plan as one line: how many seats there are and how many are held, with what happens when. */
export function SeatForecastChart({ course, zone }: { course: PlanView['course']; zone: string }) {
  const { x, y, start } = scales(course);
  const held = steps(course, (p) => p.held);
  const wanted = course.some((p) => p.waiting > 0) ? steps(course, (p) => p.held + p.waiting) : undefined;
  const weeks = Array.from({ length: WEEKS / 2 + 1 }, (_, i) => start + i * 14 * DAY_MS);
  const told = course.slice(1);
  return (
    <section aria-label="The coming twelve weeks">
      <h2 className="font-display mt-6 text-[16px] font-semibold">The coming twelve weeks</h2>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-2 block w-full max-w-4xl overflow-visible"
        role="img"
        aria-label={
          told.length === 0
            ? `Nothing changes by itself: ${formatNumber(course[0]?.seats ?? 0)} seats`
            : told
                .map(
                  (p) =>
                    `${formatInstant(p.at, zone)}: ${p.why.join(', ')}; ${formatNumber(p.held)} held of ${formatNumber(p.seats)}`,
                )
                .join('. ')
        }
      >
        {weeks.map((at) => (
          <line key={at} x1={x(at)} x2={x(at)} y1={TOP} y2={FLOOR} stroke="var(--line)" />
        ))}
        <path d={`${held}V${FLOOR}H0Z`} fill="var(--decide)" opacity="0.16" />
        <path d={held} fill="none" stroke="var(--decide)" strokeWidth="3" />
        {wanted && <path d={wanted} fill="none" stroke="var(--shut)" strokeWidth="1.5" strokeDasharray="2 3" />}
        <path d={steps(course, (p) => p.seats)} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        {told.map((p) => (
          <circle key={p.at} cx={x(Date.parse(p.at))} cy={y(p.seats)} r="3.5" fill="var(--ink)" />
        ))}
      </svg>
      {/* Beside the drawing, which gets smaller with the sheet: what is written does not. */}
      <div className="text-ink2 relative h-5 max-w-4xl text-[12px]" aria-hidden>
        {weeks.map((at, i) => (
          <span
            key={at}
            className={clsx(
              'absolute whitespace-nowrap',
              i === weeks.length - 1 ? '-translate-x-full' : i > 0 && '-translate-x-1/2',
            )}
            style={{ left: `${(i / (weeks.length - 1)) * 100}%` }}
          >
            {i === 0 ? 'now' : tick(at, zone)}
          </span>
        ))}
      </div>
      <p className="text-ink2 mt-1 flex flex-wrap gap-x-4 text-[13px]">
        <span>
          <span className="bg-ink mr-1.5 inline-block h-0.5 w-4 align-middle" aria-hidden />
          seats
        </span>
        <span>
          <span className="bg-decide mr-1.5 inline-block h-1 w-4 align-middle" aria-hidden />
          held
        </span>
        {wanted && (
          <span>
            <span className="border-shut mr-1.5 inline-block w-4 border-t-2 border-dotted align-middle" aria-hidden />
            wanted
          </span>
        )}
      </p>
      {told.length === 0 ? (
        <p className="text-ink2">Nothing begins or ends by itself.</p>
      ) : (
        <ul className="mt-1">
          {told.map((p) => (
            <li key={p.at} className="border-line flex flex-wrap gap-x-4 border-b py-1 last:border-0">
              <span className="w-40 shrink-0 font-semibold">{formatInstant(p.at, zone)}</span>
              <span className="min-w-0 flex-1">{p.why.join('; ')}</span>
              <span className="text-ink2">
                {formatNumber(p.held)} of {formatNumber(p.seats)} held
                {p.waiting > 0 && `, ${formatNumber(p.waiting)} waiting`}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
