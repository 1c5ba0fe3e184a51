import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, refusalWords } from '../api/client';
import { useSession } from '../parts/queries';
import { useSuite } from '../parts/Suite';
import { nextLook } from '../parts/settling';
import { useQuestion, whoText } from '../question/question';
import { moment } from '../text/dates';

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
    <div className="border-decide mt-2 max-w-2xl border-l-4 pl-3">
      <p role="status">{found.data.words}</p>
      <CheckLine />
    </div>
  );
}

/** Has it looked at, once it has settled, whether it has arrived on the person's screen; what was found stands on Today. */
function CheckLine() {
  const [question] = useQuestion();
  const queries = useQueryClient();
  const suite = useSuite();
  const session = useSession();
  const [refusal, setRefusal] = useState('');
  const about = { who: question.who ? whoText(question.who) : '', setting: question.what?.id ?? '' };
  const checks = useQuery({
    queryKey: ['checks', about],
    queryFn: () => answer(api.GET('/api/v1/checks', { params: { query: about } })),
    enabled: suite !== undefined,
  });
  if (!suite || !checks.data) return null;
  const waiting = checks.data.checks.find((c) => c.state === 'waiting');
  const write = async () => {
    const { error } = await api.POST('/api/v1/checks', { body: about });
    if (error) return setRefusal(refusalWords(error));
    await queries.invalidateQueries({ queryKey: ['checks'] });
  };
  return (
    <p className="text-ink2 text-[13px]">
      {waiting ? (
        `Whether it has arrived is looked at on ${moment(waiting.due, session.data?.organisation?.timeZone ?? 'UTC')}.`
      ) : (
        <button className="quiet" onClick={() => void write()}>
          Check that it arrives
        </button>
      )}
      {refusal && <span className="text-shut"> {refusal}</span>}
    </p>
  );
}
