import { clsx } from 'clsx';
import type { Review } from '../api/client';
import { Picture } from '../parts/Picture';
import { count, formatNumber } from '../text/words';
import { impactFilterOf, sameImpactFilter, type ImpactFilter } from './impactFilter';

type Move = Review['moves'][number];

/** How values move in one direction, setting by setting, each count leading to the names. */
export function MoveTable(props: {
  title: string;
  moves: Move[];
  chosen?: ImpactFilter;
  onChoose: (part: ImpactFilter) => void;
}) {
  if (props.moves.length === 0) return null;
  return (
    <section aria-label={props.title} className="mt-5">
      <table className="w-full table-fixed">
        <colgroup>
          <col />
          <col className="w-[26%]" />
          <col className="w-[26%]" />
          <col className="w-[84px]" />
        </colgroup>
        <thead className="text-ink2 text-left text-[13px]">
          <tr>
            <th className="font-display text-ink py-1 text-[16px] font-semibold">{props.title}</th>
            <th className="font-normal">From</th>
            <th className="font-normal">To</th>
            <th className="text-right font-normal">Accounts</th>
          </tr>
        </thead>
        <tbody>
          {props.moves.map((move) => {
            const part = impactFilterOf(move);
            const chosen = sameImpactFilter(part, props.chosen);
            return (
              <tr
                key={JSON.stringify(part.query)}
                className={clsx('border-line border-t align-baseline', chosen && 'bg-well')}
              >
                <td className="py-1 pr-3 font-semibold">{move.title}</td>
                <td className="text-ink2 pr-3 break-words">
                  <span className="line-through decoration-1">{move.from}</span>
                  <Picture value={move.fromValue} />
                </td>
                <td className="pr-3 font-semibold break-words">
                  {move.to}
                  <Picture value={move.toValue} />
                </td>
                <td className="text-right">
                  <button
                    className="quiet"
                    aria-label={`${count(move.accounts, 'account')}: ${move.title} to ${move.to}, by name`}
                    onClick={() => props.onChoose(part)}
                  >
                    {formatNumber(move.accounts)}
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
