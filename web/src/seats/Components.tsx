import { Link } from 'react-router';
import { ErrorNotice } from '../parts/ErrorNotice';
import { EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { formatNumber, joinList } from '../text/words';
import { useComponents } from './queries';

/** How many plans are named beside a component. */
const NAMED = 3;

const plansOf = (names: string[]) =>
  names.length <= NAMED
    ? joinList(names)
    : joinList([...names.slice(0, NAMED - 1), `${formatNumber(names.length - NAMED + 1)} more`]);

/** What seats carry, component by component: how many use each, drawn to scale, the scarcest first. Each leads to what it would take to give it to more people. */
export function Components() {
  const [question] = useQuestion();
  const components = useComponents(question);
  if (components.isError) return <ErrorNotice error={components.error} onRetry={() => void components.refetch()} />;
  if (!components.data) return <p className="text-ink2 mt-3">Looking…</p>;
  const { accounts, components: all } = components.data;
  const scarcest = all.toSorted((a, b) => a.accounts - b.accounts || a.name.localeCompare(b.name));
  const ask = (id: string) =>
    `/seats${writeQuestion(
      { ...question, what: undefined, who: question.who ?? EVERYONE },
      `?list=needed&component=${encodeURIComponent(id)}`,
    )}`;
  return (
    <section aria-label="What seats carry" className="mt-6 max-w-6xl">
      <h2 className="font-display text-[16px] font-semibold">What seats carry</h2>
      {all.length === 0 && <p className="text-ink2">No setting here asks for a licence.</p>}
      <ul className="border-line mt-1 border-t">
        {scarcest.map((c) => (
          <li
            key={c.id}
            className="border-line grid grid-cols-[minmax(0,10rem)_minmax(0,1fr)] items-center gap-x-4 border-b py-2 sm:grid-cols-[minmax(0,10rem)_minmax(0,1fr)_minmax(0,20rem)]"
          >
            {c.alone ? (
              <Link className="truncate font-semibold underline" to={ask(c.id)}>
                {c.name}
              </Link>
            ) : (
              <span className="truncate font-semibold">{c.name}</span>
            )}
            <span className="flex items-center gap-3">
              <span className="bg-well border-line2 h-3 flex-1 border" aria-hidden>
                <span
                  className="bg-decide settles block h-full"
                  style={{ width: `${(100 * c.accounts) / Math.max(1, accounts)}%` }}
                />
              </span>
              <span className="w-36 shrink-0 text-right">
                {formatNumber(c.accounts)} of {formatNumber(accounts)} use it
              </span>
            </span>
            <span className="text-ink2 text-[13px] max-sm:col-span-2">
              {c.plans.length === 0 ? 'no plan that runs carries it' : `through ${plansOf(c.plans.map((p) => p.name))}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
