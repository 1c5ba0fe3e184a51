import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { unwrap, api, type Climb } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { useClimb } from '../parts/queries';
import { WaysTo } from './ChangeHere';
import { GateRemedyOption } from '../parts/ChangeOptions';
import { draftOf, useQuestion, writeQuestion } from '../question/question';

/** What opens each closed gate, at most three edits for one, the smallest ripple first. */
export function GateRemedies({ climb, depth = 0 }: { climb: Climb; depth?: number }) {
  const [question] = useQuestion();
  const after = useAfterDraft();
  const closed = climb.drawing.gates.some((g) => !g.met);
  const now = question.who?.kind === 'account' && (question.when === undefined || draftOf(question.when) !== undefined);
  const found = useQuery({
    queryKey: ['remedies', question.who, climb.outcome.setting, question.where, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/gate-remedies', {
          params: {
            query: {
              account: question.who?.id ?? '',
              setting: climb.outcome.setting,
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
            <Unopened on={climb.drawing.gates[gate.gate]?.on} account={climb.drawing.account} depth={depth} />
          )}
          <ul className="border-line border-t empty:border-0" aria-label={gate.need}>
            {gate.remedies.map((remedy) => (
              <GateRemedyOption key={remedy.words} remedy={remedy} />
            ))}
          </ul>
        </div>
      ))}
      {depth === 0 && (
        <Link className="quiet mt-1.5 inline-block text-[13px]" to={`/seats${writeQuestion(question, '?list=needed')}`}>
          All that stands in the way, and for others
        </Link>
      )}
    </section>
  );
}

/** How many settings that need one another are shown below each other. */
const DEEPEST = 6;

/** A gate that no single edit opens; what keeps the setting away that it looks at stands below it, to the end of the chain. */
function Unopened(props: { on: Climb['drawing']['gates'][number]['on']; account: string; depth: number }) {
  const { on, depth } = props;
  if (!on) return <p className="text-ink2 border-line border-t py-1.5">No edit opens this one for {props.account}.</p>;
  return depth < DEEPEST ? <NeededSetting on={on} depth={depth + 1} /> : null;
}

/** A setting that a gate looks at: why it is as it is, how to change it, and which gates of its own stay closed. */
function NeededSetting({ on, depth }: { on: NonNullable<Climb['drawing']['gates'][number]['on']>; depth: number }) {
  const [question] = useQuestion();
  const asked = { ...question, what: { id: on.setting } };
  const climb = useClimb(asked);
  if (climb.isError) return <p className="text-shut">{climb.error.message}</p>;
  if (!climb.data || climb.isPlaceholderData) return <p className="text-ink2">Looking at {on.title}…</p>;
  const { drawing, outcome } = climb.data;
  return (
    <div className="border-line2 mt-1 border-l-2 pl-4">
      <p>
        <Link className="quiet font-semibold" to={`/ladder${writeQuestion(asked)}`}>
          {on.title}
        </Link>{' '}
        is {drawing.value}. {drawing.because.map((piece) => piece.text).join('')}
      </p>
      {JSON.stringify(outcome.decided) !== JSON.stringify(on.wanted) && (
        <WaysTo setting={on.setting} value={on.wanted} />
      )}
      <GateRemedies climb={climb.data} depth={depth} />
    </div>
  );
}
