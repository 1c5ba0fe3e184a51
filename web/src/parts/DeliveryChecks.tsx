import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { unwrap, api, expectEmpty, problemOf, type Schemas } from '../api/client';
import { draftOf, useQuestion, whoText } from '../question/question';
import { formatInstant } from '../text/dates';
import { capital } from '../text/words';
import { useSession } from './queries';
import { useSuite } from './SuitePage';
import { clock } from '../text/clock';

type Check = Schemas['CheckLine'];

const AGAIN_MS = 5000;

const useChecks = (about: { who?: string; setting?: string; workspace?: string; draft?: number }, enabled: boolean) =>
  useQuery({
    queryKey: ['checks', about],
    queryFn: () => unwrap(api.GET('/api/v1/checks', { params: { query: about } })),
    enabled,
    // What is due is looked at by itself.
    refetchInterval: ({ state }) =>
      state.data?.checks.some(
        (c) => c.state === 'waiting' && c.due !== null && Date.parse(c.due) < clock().getTime(),
      ) && AGAIN_MS,
  });

/** Writes a check, or takes one away; what was refused is said. */
function useWriting() {
  const queries = useQueryClient();
  // One for both, so that what the last press came to is all that is said.
  const sending = useMutation({
    mutationFn: (send: () => Promise<void>) => send(),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['checks'] }),
  });
  return {
    refusal: problemOf(sending.error),
    sending: sending.isPending,
    write: (body: { who: string; setting: string; workspace?: string; draft?: number }) =>
      sending.mutate(() => expectEmpty(api.POST('/api/v1/checks', { body }))),
    remove: (id: number) =>
      sending.mutate(() => expectEmpty(api.DELETE('/api/v1/checks/{id}', { params: { path: { id } } }))),
  };
}

/**
 * Has it looked at whether what the question asks about has arrived on people's screens: with one press, once it has settled; after a draft, as a
 * check that the draft carries. Says what was found the last time.
 */
export function DeliveryCheckLine() {
  const [question] = useQuestion();
  const suite = useSuite();
  const zone = useSession().data?.organisation?.timeZone ?? 'UTC';
  const { refusal, sending, write, remove } = useWriting();
  const draft = draftOf(question.when);
  const isAsked =
    suite !== undefined &&
    question.who !== undefined &&
    question.what !== undefined &&
    (question.when === undefined || draft !== undefined);
  const about = {
    who: question.who ? whoText(question.who) : '',
    setting: question.what?.id ?? '',
    workspace: question.where?.id,
    draft,
  };
  const checks = useChecks(about, isAsked);
  if (!isAsked || !checks.data) return null;
  const last = checks.data.checks.find(
    (c) => (c.workspace ?? undefined) === about.workspace && (c.draft ?? undefined) === draft,
  );
  return (
    <p className="text-ink2 no-print text-[13px]" role="status" aria-label="Check">
      {last && draft !== undefined ? (
        <>
          The draft carries a check that this arrives.{' '}
          <button className="quiet" disabled={sending} onClick={() => remove(last.id)}>
            Take it out
          </button>
        </>
      ) : last?.state === 'waiting' && last.due !== null ? (
        `Whether it has arrived is looked at on ${formatInstant(last.due, zone)}.`
      ) : (
        <>
          {last && draft === undefined && <Found check={last} zone={zone} />}
          <button className="quiet" disabled={sending} onClick={() => write(about)}>
            {sending ? 'Noting it…' : last ? 'Check again' : 'Check delivery'}
          </button>
        </>
      )}
      {refusal && <span className="text-shut"> {refusal}</span>}
    </p>
  );
}

function Found({ check, zone }: { check: Check; zone: string }) {
  return (
    <>
      {check.found}
      {check.looked !== null && ` Looked at on ${formatInstant(check.looked, zone)}.`}{' '}
    </>
  );
}

/** The checks that a draft carries; nothing where it carries none. */
export function DraftDeliveryChecks({ draft }: { draft: number }) {
  const suite = useSuite();
  const { refusal, sending, remove } = useWriting();
  const checks = useChecks({ draft }, suite !== undefined).data?.checks ?? [];
  if (checks.length === 0) return null;
  return (
    <section aria-label="Looked at afterwards">
      <h2 className="font-display mt-6 text-[16px] font-semibold">Looked at afterwards</h2>
      <ul className="border-line mt-1 border-t">
        {checks.map((check) => (
          <li key={check.id} className="border-line flex items-baseline gap-3 border-b py-1">
            <span className="min-w-0 flex-1">{capital(check.words)}: whether it has arrived, once it has settled</span>
            <button className="quiet text-[13px]" disabled={sending} onClick={() => remove(check.id)}>
              Take it out
            </button>
          </li>
        ))}
      </ul>
      {refusal && <p className="text-shut">{refusal}</p>}
    </section>
  );
}
