import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { unwrap, api, type Climb } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { GateRemedyOption } from '../parts/ChangeOptions';
import { draftOf, useQuestion, writeQuestion } from '../question/question';

/** What opens each closed gate, at most three edits for one, the smallest ripple first. */
export function GateRemedies({ climb }: { climb: Climb }) {
  const [question] = useQuestion();
  const after = useAfterDraft();
  const closed = climb.drawing.gates.some((g) => !g.met);
  const now = question.who?.kind === 'account' && (question.when === undefined || draftOf(question.when) !== undefined);
  const found = useQuery({
    queryKey: ['remedies', question.who, question.what, question.where, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/gate-remedies', {
          params: {
            query: {
              account: question.who?.id ?? '',
              setting: question.what?.id ?? '',
              workspace: question.where?.id,
              ...after.query,
            },
          },
        }),
      ),
    enabled: closed && now,
  });
  if (!closed || !now) return null;
  const gates = found.data?.gates ?? [];
  return (
    <section aria-label="What opens the gates" className="mt-4 max-w-2xl">
      <h2 className="font-display text-[16px] font-semibold">
        {gates.length > 1 ? 'What opens each gate' : 'What opens the gate'}
      </h2>
      {found.isPending && <p className="text-ink2">Each way is tried…</p>}
      {found.isError && <p className="text-shut">{found.error.message}</p>}
      {gates.map((gate) => (
        <div key={gate.gate} className="mt-1">
          {gates.length > 1 && <h3 className="text-ink2 text-[13px]">{gate.need}</h3>}
          {gate.remedies.length === 0 && (
            <Unopened on={climb.drawing.gates[gate.gate]?.on} account={climb.drawing.account} />
          )}
          <ul className="border-line border-t empty:border-0" aria-label={gate.need}>
            {gate.remedies.map((remedy) => (
              <GateRemedyOption key={remedy.words} remedy={remedy} />
            ))}
          </ul>
        </div>
      ))}
      <Link className="quiet mt-1.5 inline-block text-[13px]" to={`/seats${writeQuestion(question, '?list=needed')}`}>
        All that stands in the way, and for others
      </Link>
    </section>
  );
}

/** A gate that no single edit opens; one that looks at another setting leads to the ladder of that. */
function Unopened({ on, account }: { on: Climb['drawing']['gates'][number]['on']; account: string }) {
  const [question] = useQuestion();
  return (
    <p className="text-ink2 border-line border-t py-1.5">
      {on ? (
        <>
          More than one thing keeps it closed: see what keeps{' '}
          <Link className="quiet" to={`/ladder${writeQuestion({ ...question, what: { id: on.setting } })}`}>
            {on.title}
          </Link>{' '}
          away.
        </>
      ) : (
        `No edit opens this one for ${account}.`
      )}
    </p>
  );
}
