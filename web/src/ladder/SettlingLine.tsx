import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { useQuestion } from '../question/question';

const SOON = 1000;
const LATE = 600_000;

/** While a change is on its way to the person's screen: what can be there, and until when. Nothing once it has settled. */
export function SettlingLine({ change }: { change: number }) {
  const [question] = useQuestion();
  const asked = question.who?.kind === 'account' && question.what !== undefined && question.when === undefined;
  const found = useQuery({
    queryKey: ['settling', question.who, question.what, question.where, change],
    queryFn: () =>
      answer(
        api.GET('/api/v1/settling', {
          params: {
            query: {
              account: question.who?.id ?? '',
              setting: question.what?.id ?? '',
              workspace: question.where?.id,
            },
          },
        }),
      ),
    enabled: asked,
    // It changes by itself at two instants; it is asked again when the next of them has come.
    refetchInterval: ({ state }) => nextLook(state.data, Date.now()),
  });
  if (!asked || !found.data || found.data.words === '') return null;
  return (
    <p className="border-decide mt-2 max-w-2xl border-l-4 pl-3" role="status">
      {found.data.words}
    </p>
  );
}

/** In how many milliseconds something will be told otherwise; false where nothing is on its way. */
export function nextLook(told: { from: string | null; until: string | null } | undefined, now: number): number | false {
  const to = [told?.from, told?.until].map((t) => (t ? Date.parse(t) - now : 0)).filter((t) => t > 0);
  return to.length === 0 ? false : Math.min(LATE, Math.max(SOON, Math.min(...to) + SOON));
}
