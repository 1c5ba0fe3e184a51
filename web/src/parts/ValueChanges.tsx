import type { Ripple } from '../api/client';
import { formatNumber } from '../text/words';
import { Picture } from './Picture';

/** How each setting moves: from what to what, and for how many. */
export function ValueChanges({ moves }: { moves: Ripple['moves'] }) {
  return (
    <table className="mb-4 w-full max-w-[760px]">
      <thead className="text-ink2 text-left text-[13px]">
        <tr>
          <th className="py-1 font-normal">Setting</th>
          <th className="font-normal">From</th>
          <th className="font-normal">To</th>
          <th className="font-normal">Effect</th>
          <th className="text-right font-normal">Accounts</th>
        </tr>
      </thead>
      <tbody>
        {moves.map((move) => (
          <tr key={JSON.stringify([move.setting, move.fromValue, move.toValue])} className="border-line border-t">
            <td className="py-1 pr-3 font-semibold">{move.title}</td>
            <td className="pr-3 break-words">
              {move.from}
              <Picture value={move.fromValue} />
            </td>
            <td className="pr-3 font-semibold break-words">
              {move.to}
              <Picture value={move.toValue} />
            </td>
            <td className="pr-3">{move.effect === 'other' ? 'otherwise' : move.effect}</td>
            <td className="text-right">{formatNumber(move.accounts)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
