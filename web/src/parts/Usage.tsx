import { useQuery } from '@tanstack/react-query';
import { api, unwrap, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { day } from '../text/dates';
import { count, formatNumber } from '../text/words';

const WIDTH = 420;
const HEIGHT = 64;

type Period = Schemas['UsagePeriod'];

/** How many used a setting, over time and by unit; nothing where no client reports it. */
export function Usage({ setting }: { setting: string }) {
  const after = useAfterDraft();
  const found = useQuery({
    queryKey: ['usage', setting, after.key],
    queryFn: () =>
      unwrap(api.GET('/api/v1/settings/{key}/usage', { params: { path: { key: setting }, query: after.query } })),
  });
  const usage = found.data;
  if (!usage || (usage.periods.length === 0 && !usage.items)) return null;
  const used = usage.units.filter((u) => u.people !== 0);
  return (
    <section aria-label="Usage">
      <h3 className="font-display mt-5 text-[16px] font-semibold">Usage</h3>
      {usage.periods.length > 0 && (
        <>
          <p>
            {usage.recent === 0
              ? 'Nobody used it in the last 30 days.'
              : `${formatNumber(usage.recent)} of ${count(usage.everyone, 'account')} used it in the last 30 days.`}
          </p>
          <UsageChart periods={usage.periods} />
        </>
      )}
      {usage.items && (
        <p className="mt-1">
          {count(usage.items.items, 'item')} shared outside, as reported on {day(usage.items.day)}. A stricter value
          does not revoke them.
        </p>
      )}
      {used.length > 0 && (
        <ul aria-label="Usage by unit" className="mt-1">
          {used.map((unit) => (
            <li key={unit.id} className="border-line flex gap-3 border-b py-1">
              <span className="min-w-0 flex-1">{unit.name}</span>
              <span className="text-right tabular-nums">
                {unit.people === undefined || unit.people === null ? 'fewer than 5' : formatNumber(unit.people)} of{' '}
                {formatNumber(unit.everyone)}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The people who used it as bars over the days and weeks, to scale. */
function UsageChart({ periods }: { periods: Period[] }) {
  const most = Math.max(1, ...periods.map((p) => p.people));
  const start = Date.parse(periods[0]?.day ?? '');
  const last = periods.at(-1);
  const days = last ? (Date.parse(last.day) - start) / 86_400_000 + last.days : 1;
  const x = (at: string) => ((Date.parse(at) - start) / 86_400_000 / days) * WIDTH;
  return (
    <figure className="mt-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full"
        role="img"
        aria-label={`From ${day(periods[0]?.day ?? '')} to ${day(last?.day ?? '')}; at most ${formatNumber(most)} in a day`}
      >
        <line x1={0} x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--line2)" />
        {periods.map((p) => {
          const height = (p.people / most) * (HEIGHT - 2);
          return (
            <rect
              key={p.day}
              x={x(p.day)}
              y={HEIGHT - height}
              width={Math.max(1, (p.days / days) * WIDTH - 1)}
              height={height}
              fill="var(--ink2)"
            >
              <title>
                {p.days === 1 ? day(p.day) : `The week of ${day(p.day)}`}: {formatNumber(p.people)}
              </title>
            </rect>
          );
        })}
      </svg>
      <figcaption className="text-ink2 flex justify-between text-[13px]">
        <span>{day(periods[0]?.day ?? '')}</span>
        <span>at most {formatNumber(most)} in a day</span>
        <span>{day(last?.day ?? '')}</span>
      </figcaption>
    </figure>
  );
}

/** When the person of a question used its setting last; nothing where no client reports it. */
export function LastUse({ account, setting }: { account: string; setting: string }) {
  const found = useQuery({
    queryKey: ['last use', account, setting],
    queryFn: () =>
      unwrap(api.GET('/api/v1/accounts/{id}/usage/{setting}', { params: { path: { id: account, setting } } })),
  });
  if (!found.data?.reported) return null;
  const { day: last, days } = found.data;
  if (!last) return <> Never used, as far as is known.</>;
  return <> {days === 1 ? `Last used on ${day(last)}.` : `Last used in the week of ${day(last)}.`}</>;
}
