import { useQuery } from '@tanstack/react-query';
import { RefusedError, unwrap, api, type Ripple } from '../api/client';
import { impactSentence } from '../draft/impactText';
import { useSession } from '../parts/queries';
import { count } from '../text/words';

/** Before a policy goes: whose values would change. */
export function PolicyRemoval(props: { policy: string; name: string; onKeep: () => void; onDelete: () => void }) {
  const session = useSession();
  const base = session.data?.change ?? 0;
  const noticed = useQuery<Ripple, RefusedError>({
    queryKey: ['noticed', props.policy, base],
    queryFn: () =>
      unwrap(
        api.POST('/api/v1/changes', {
          params: { query: { preview: true, limit: 1 } },
          body: { base, edits: [{ kind: 'remove-policy', policy: props.policy }] },
        }),
      ) as Promise<Ripple>,
    enabled: base > 0,
  });
  return (
    <div role="region" aria-label="Who would notice" className="border-draft bg-paper border-b border-l-4 px-6 py-3">
      <p>
        {noticed.data ? (
          noticed.data.accounts === 0 ? (
            <strong className="font-semibold">Nobody would notice: no value changes if {props.name} goes.</strong>
          ) : (
            <>
              <strong className="font-semibold">
                {count(noticed.data.accounts, 'account')} would notice if {props.name} goes:
              </strong>{' '}
              {impactSentence(noticed.data)}.
            </>
          )
        ) : noticed.isError ? (
          'It is not published yet; only the draft knows it.'
        ) : (
          'Working out who would notice…'
        )}
      </p>
      <div className="mt-2 flex gap-2">
        <button className="button" onClick={props.onDelete}>
          Delete it in the draft
        </button>
        <button className="button" onClick={props.onKeep}>
          Keep it
        </button>
      </div>
    </div>
  );
}
