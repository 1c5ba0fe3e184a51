import { useQuery } from '@tanstack/react-query';
import { unwrap, api } from '../api/client';
import { nextLook } from '../parts/settling';
import { useQuestion } from '../question/question';
import { clock } from '../text/clock';

/** While a change is on its way to the person's screen: what can be there, and until when. Nothing once it has settled. */
export function SettlingLine({ change }: { change: number }) {
  const [question] = useQuestion();
  const asked = question.who?.kind === 'account' && question.what !== undefined && question.when === undefined;
  const found = useQuery({
    queryKey: ['settling', question.who, question.what, question.where, change],
    queryFn: () =>
      unwrap(
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
    refetchInterval: ({ state }) => nextLook(state.data, clock().getTime()),
  });
  if (!asked || !found.data || found.data.words === '') return null;
  return (
    <p role="status" className="border-decide mt-2 max-w-2xl border-l-4 pl-3">
      {found.data.words}
    </p>
  );
}
