import type { Edit } from '../api/client';
import { FeedbackButtons, useFeedback } from '../parts/FeedbackButtons';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../text/words';
import type { ReleaseLine } from './queries';

/** What people found, in numbers. */
export function foundWords(f: ReleaseLine['feedback']): string {
  const found = [f.works > 0 && `works for ${f.works}`, f.fails > 0 && `does not for ${f.fails}`].filter(Boolean);
  const all = [found.length > 0 && `It ${found.join(' and ')}`, f.ideas > 0 && count(f.ideas, 'idea')].filter(Boolean);
  if (all.length === 0) return 'Nobody has said anything yet';
  return `${all.join(', ')}; ${f.open > 0 ? `${f.open} not dealt with` : 'all dealt with'}`;
}

/** What people found of a release: read, and marked as dealt with. */
export function Feedback(props: { release: ReleaseLine; zone: string; onEdit: (edits: Edit[]) => Promise<boolean> }) {
  const { release, zone } = props;
  const { found, file } = useFeedback({ release: release.setting });
  const lines = found.data?.feedback ?? [];
  return (
    <section aria-label="Feedback">
      <h3 className="font-display mt-5 flex items-baseline text-[16px] font-semibold">
        Feedback
        {lines.length > 0 && (
          <a className="quiet ml-auto text-[13px] font-normal" href={file}>
            As CSV
          </a>
        )}
      </h3>
      <p className="text-ink2">{foundWords(release.feedback)}.</p>
      {found.isError && <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />}
      <ul className="max-h-96 overflow-y-auto">
        {lines.map((line) => (
          <FeedbackButtons key={line.id} line={line} zone={zone} onEdit={props.onEdit} />
        ))}
      </ul>
    </section>
  );
}
