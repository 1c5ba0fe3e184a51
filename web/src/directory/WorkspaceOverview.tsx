import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, unwrap } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { count, formatNumber } from '../text/words';

/** All workspaces at a glance: where they deviate, and what they may decide within which limits. */
export function WorkspaceOverview({ onClose }: { onClose: () => void }) {
  const after = useAfterDraft();
  const [question] = useQuestion();
  const deviations = useQuery({
    queryKey: ['workspace deviations', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/workspace-deviations', { params: { query: after.query } })),
  });
  const open = useQuery({
    queryKey: ['workspace openness', after.key],
    queryFn: () => unwrap(api.GET('/api/v1/workspace-openness', { params: { query: after.query } })),
  });
  return (
    <aside
      aria-label="Where workspaces differ"
      className="border-line w-[520px] shrink-0 overflow-y-auto border-l px-5 py-3 max-[1023px]:w-full"
    >
      <div className="flex items-start gap-3">
        <h2 className="font-display min-w-0 flex-1 text-[20px] font-bold">Where workspaces differ</h2>
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
      {deviations.isError && <ErrorNotice error={deviations.error} onRetry={() => void deviations.refetch()} />}
      {deviations.isPending && <p className="text-ink2">Comparing the workspaces…</p>}
      {deviations.data?.deviations.length === 0 && (
        <p className="text-ink2">In every workspace people have the same as elsewhere.</p>
      )}
      <ul aria-label="Deviations">
        {deviations.data?.deviations.map((d) => (
          <li key={`${d.workspace} ${d.setting} ${d.value} ${d.elsewhere}`} className="border-line border-b py-1.5">
            <span className="flex items-baseline gap-3">
              <Link
                className="quiet min-w-0 flex-1 font-semibold"
                to={`/ladder${writeQuestion({ ...question, who: EVERYONE, what: { id: d.setting }, where: { id: d.workspace } })}`}
              >
                {d.title}
              </Link>
              <span className="text-right">
                <strong className="font-semibold">{d.value}</strong>
                <span className="text-ink2"> instead of {d.elsewhere}</span>
              </span>
            </span>
            <span className="text-ink2 text-[13px]">
              in {d.name}, for {count(d.accounts, 'member')}
              {d.by && `, by ${d.by}`}
            </span>
          </li>
        ))}
      </ul>
      {deviations.data?.complete === false && (
        <p className="text-ink2 mt-1 text-[13px]">
          There are more; only the first 2,000 settings of workspaces are compared.
        </p>
      )}
      <h3 className="font-display mt-6 text-[16px] font-semibold">What workspaces may decide</h3>
      {open.isError && <ErrorNotice error={open.error} onRetry={() => void open.refetch()} />}
      <ul aria-label="Settings open to workspaces">
        {open.data?.settings.map((s) => (
          <li key={s.key} className="border-line border-b py-1.5">
            <span className="flex items-baseline gap-3">
              <Link
                className="quiet min-w-0 flex-1"
                to={`/settings/${encodeURIComponent(s.key)}${writeQuestion(question)}`}
              >
                {s.title}
              </Link>
              <span className="text-ink2 text-[13px]">
                {s.deciding === 0
                  ? 'no workspace has'
                  : `${formatNumber(s.deciding)} of ${count(open.data.workspaces, 'workspace')} ${s.deciding === 1 ? 'has' : 'have'}`}{' '}
                a statement of its own
              </span>
            </span>
            {s.limits.map((limit) => (
              <span key={limit.policy + limit.says} className="text-ink2 block text-[13px]">
                {limit.says}, by {limit.name}
              </span>
            ))}
          </li>
        ))}
      </ul>
    </aside>
  );
}
