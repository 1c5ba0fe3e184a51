import { clsx } from 'clsx';
import type { Draft } from '../api/client';
import { count } from '../text/words';

/** The edits of a draft in words. Of very many the server tells only some; how many are left out is said where they would stand. */
export function DraftEdits({ draft, className }: { draft: Draft; className?: string }) {
  return (
    <ol className={clsx('border-line border-t', className)}>
      {draft.items.map((item, at, all) => {
        const between = item.index - (all[at - 1]?.index ?? -1) - 1;
        return (
          <li
            key={item.index}
            className={clsx(
              'border-line border-b py-1',
              item.conflicts.length + item.refusals.length > 0 && 'text-shut',
              item.cancelled && 'text-ink2',
            )}
          >
            {between > 0 && <p className="text-ink2 mb-1">{count(between, 'more edit')} here, too many to show.</p>}
            {item.cancelled ? <s>{item.words}</s> : item.words || 'An edit that can no longer be carried out'}
            {item.cancelled && ' · cancelled by another edit, and left out'}
          </li>
        );
      })}
    </ol>
  );
}
