import type { Review } from '../api/client';
import { count, formatNumber } from '../text/words';
import type { ImpactFilter } from './impactFilter';

/** What becomes stricter for people who used it lately, and what stays shared outside. */
export function LostUsage(props: { used: Review['used']; onChoose: (part: ImpactFilter) => void }) {
  if (props.used.length === 0) return null;
  return (
    <section aria-label="Usage of what people lose" className="mt-3">
      <h2 className="font-display text-[16px] font-semibold">Usage of what people lose, in the last 30 days</h2>
      <ul>
        {props.used.map((u) => (
          <li key={u.setting} className="mt-0.5">
            <strong className="font-semibold">{u.title}</strong>:{' '}
            {u.accounts === 1 ? '1 account loses it' : `${formatNumber(u.accounts)} lose it`}
            {typeof u.used === 'number' && (
              <>
                {u.accounts === 1 ? ' and ' : u.used === 0 ? ', and ' : ', '}
                {u.used === 0 ? (
                  u.accounts === 1 ? (
                    'did not use it'
                  ) : (
                    'none of them used it'
                  )
                ) : (
                  <button
                    className="quiet"
                    onClick={() =>
                      props.onChoose({
                        title: `${u.title}: used it and lose it`,
                        query: { setting: u.setting, part: 'used' },
                      })
                    }
                  >
                    {u.accounts === 1 ? 'used it' : `${formatNumber(u.used)} of them used it`}
                  </button>
                )}
              </>
            )}
            .{u.items ? ` ${count(u.items, 'item')} shared outside ${u.items === 1 ? 'stays' : 'stay'} shared.` : ''}
          </li>
        ))}
      </ul>
    </section>
  );
}
