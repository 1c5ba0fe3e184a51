import { Link } from 'react-router';
import { useQueriedPolicy } from '../parts/queries';
import { useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';

const SHOWN = 8;

/** The policy that decides, or the one chosen on the ladder, in short: what else it says and whom it reaches. */
export function PolicyAside(props: { policy?: string; deciding?: string; setting: string }) {
  const [question] = useQuestion();
  const policy = useQueriedPolicy(props.policy, question);
  return (
    <aside
      aria-label="Policy in short"
      className="bg-paper border-line w-[236px] shrink-0 overflow-y-auto border-l px-4 pt-4 pb-6 max-[1179px]:w-full max-[1179px]:overflow-visible max-[1179px]:border-t max-[1179px]:border-l-0 xl:w-[252px]"
    >
      {!props.policy ? (
        <>
          <h2 className="font-display text-[16px] font-semibold">No policy decides</h2>
          <p className="text-ink2 mt-1 text-[13px]">
            The catalogue’s own value holds. A policy that sets it, on any rung, would take over.
          </p>
          <Link className="quiet mt-3 block" to={`/policies${writeQuestion(question)}`}>
            Write a policy
          </Link>
        </>
      ) : policy.data ? (
        <>
          <p className="text-ink2 text-[13px]">
            {props.policy === props.deciding ? 'It is decided by' : 'Also weighed'}
          </p>
          <h2 className="font-display text-[17px] leading-6 font-semibold">{policy.data.name}</h2>
          {policy.data.description && <p className="mt-1">{policy.data.description}</p>}
          <dl className="mt-3 space-y-2">
            <div>
              <dt className="text-ink2 text-[13px]">Applies to</dt>
              <dd className="line-clamp-6">{policy.data.for}</dd>
            </div>
            <div>
              <dt className="text-ink2 text-[13px]">Reaches</dt>
              <dd>
                {policy.data.live ? count(policy.data.reaches, 'account') : 'nobody while it is paused'}
                {policy.data.inWorkspaces && policy.data.live && ', and whoever works there'}
              </dd>
            </div>
          </dl>
          <h3 className="text-ink2 mt-4 text-[13px]">Settings</h3>
          <ul className="border-line mt-1 border-t">
            {policy.data.says.slice(0, SHOWN).map((said) => (
              <li
                key={`${said.setting}${said.cap}`}
                className="border-line flex items-baseline justify-between gap-2 border-b py-1"
              >
                <span className={said.setting === props.setting ? 'font-semibold' : undefined}>{said.title}</span>
                <span className="max-w-[45%] shrink-0 truncate text-right font-medium" title={said.value}>
                  {said.cap ? '≤ ' : ''}
                  {said.value}
                  {said.lock && <span className="text-ink2 block text-[12.5px] font-normal">locked</span>}
                </span>
              </li>
            ))}
          </ul>
          {policy.data.says.length > SHOWN && (
            <p className="text-ink2 mt-1 text-[13px]">and {count(policy.data.says.length - SHOWN, 'more', 'more')}</p>
          )}
          <Link
            className="button mt-4"
            to={`/policies/${encodeURIComponent(policy.data.id)}${writeQuestion(question)}`}
          >
            Open the policy
          </Link>
        </>
      ) : policy.isError ? (
        <p className="text-shut">{policy.error.message}</p>
      ) : (
        <p className="text-ink2">Looking…</p>
      )}
    </aside>
  );
}
