import type { Draft } from '../api/client';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';
import { useDraft } from '../draft/draft';

/** The edits that do not stand: both sides of what was published meanwhile, or the reason, and the choice for each. */
export function ConflictList({ draft, zone }: { draft: Draft; zone: string }) {
  const { choose } = useDraft();
  const troubled = draft.items.filter((i) => i.conflicts.length + i.refusals.length > 0);
  if (troubled.length === 0) return null;
  return (
    <section
      role="alert"
      aria-label="Edits that do not stand"
      className="border-draft bg-paper mt-3 border-l-4 px-4 py-2"
    >
      <h2 className="font-semibold">
        {draft.troubled === 1 ? '1 edit conflicts' : `${count(draft.troubled, 'edit')} conflict`}; choose before
        publishing
      </h2>
      <ul>
        {troubled.map((item) => (
          <li key={item.index} className="border-line border-b py-1.5 last:border-0">
            {item.conflicts.map((clash, i) => (
              <p key={i}>
                Change {clash.change.number} by {clash.change.author}, {formatInstant(clash.change.at, zone)}:{' '}
                <strong className="font-semibold">{clash.theirsInWords}</strong>. Yours:{' '}
                <strong className="font-semibold">{clash.yoursInWords || 'can no longer be carried out'}</strong>.
              </p>
            ))}
            {item.refusals.map((r) => (
              <p key={r.pointer + r.message}>It {r.message}.</p>
            ))}
            <div className="mt-1 flex gap-2">
              {item.refusals.length === 0 && item.conflicts.every((c) => c.yoursInWords !== '') && (
                <button className="button" onClick={() => choose(item.index, 'mine')}>
                  Use mine
                </button>
              )}
              <button className="button" onClick={() => choose(item.index, 'theirs')}>
                {item.refusals.length > 0 ? 'Remove this edit' : 'Use theirs'}
              </button>
            </div>
          </li>
        ))}
      </ul>
      {draft.troubled > troubled.length && (
        <p className="text-ink2 pt-1.5">
          {count(draft.troubled - troubled.length, 'more edit')}{' '}
          {draft.troubled - troubled.length === 1 ? 'comes' : 'come'} into this list as you decide about these.
        </p>
      )}
    </section>
  );
}
