import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { unwrap, api, expectEmpty, problemOf, type Schemas } from '../api/client';
import { impactSentence } from '../draft/impactText';
import { useAfterDraft } from '../draft/draft';
import { GateRemedyOption, ChangeOption } from '../parts/ChangeOptions';
import { ErrorNotice } from '../parts/ErrorNotice';
import { account, useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { useSession } from '../parts/queries';
import { count, joinList } from '../text/words';

type Line = Schemas['RequestLine'];

/** One request with its answer worked out: why, what would grant it with its ripple, who else asks; and how to decline it. */
export function RequestSheet({ id }: { id: number }) {
  const navigate = useNavigate();
  const [question] = useQuestion();
  const zone = useSession().data?.organisation?.timeZone ?? 'UTC';
  const found = useQuery({
    queryKey: ['requests', id],
    queryFn: () => unwrap(api.GET('/api/v1/requests/{id}', { params: { path: { id } } })),
    refetchInterval: 15_000,
  });
  const request = found.data?.request;
  const alike = found.data?.alike ?? [];
  return (
    <aside
      aria-label="Request"
      className="border-line bg-sheet w-[460px] shrink-0 overflow-y-auto border-l px-5 pt-5 pb-8 max-[1023px]:w-[380px]"
    >
      <div className="flex items-start gap-3">
        <h2 className="font-display min-w-0 flex-1 text-[18px] leading-6 font-semibold">
          {request && `${request.name} asks for ${request.title}`}
          {request && request.value !== 'On' && request.value !== '' && `: ${request.value}`}
        </h2>
        <button className="button" onClick={() => void navigate(`/today${writeQuestion(question)}`)}>
          Close
        </button>
      </div>
      {found.isError && !found.data ? (
        <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />
      ) : !request ? (
        <p className="text-ink2">Looking…</p>
      ) : (
        <>
          <p className="text-ink2 text-[13px]">
            {request.unit} · asked {formatInstant(request.asked, zone)}
            {request.inWorkspace && ` · in ${request.inWorkspace}`}
          </p>
          {request.words && <p className="border-line2 mt-2 border-l-4 pl-3">“{request.words}”</p>}
          <p className="mt-3">
            {request.why && `In the suite it says: “${request.why}”`}{' '}
            <Link
              className="quiet"
              to={`/ladder${writeQuestion({
                who: account(request.account),
                what: { id: request.setting },
                where: request.workspace ? { id: request.workspace } : undefined,
              })}`}
            >
              See the ladder
            </Link>
          </p>
          {request.alike.length > 0 && (
            <p className="text-ink2 mt-1 text-[13px]">
              Others ask for the same:{' '}
              {joinList(request.alike.map((a) => `${count(a.requests, 'person', 'people')} of ${a.unit}`))}.
            </p>
          )}
          {alike.length > 1 && (
            <p className="mt-1 flex flex-wrap gap-x-3 text-[13px]">
              {alike.map((r) => (
                <Link
                  key={r.id}
                  className="quiet aria-[current]:font-semibold"
                  aria-current={r.id === id ? 'true' : undefined}
                  to={`/today/requests/${r.id}`}
                >
                  {r.name}
                </Link>
              ))}
            </p>
          )}
          {request.state === 'open' ? <Answering request={request} /> : <Answered request={request} zone={zone} />}
        </>
      )}
    </aside>
  );
}

function Answered({ request, zone }: { request: Line; zone: string }) {
  return (
    <p className="mt-4 font-semibold">
      {request.state === 'closed' ? 'Closed' : request.state === 'granted' ? 'Granted' : 'Declined'}
      {request.by && ` by ${request.by}`}
      {request.answered && ` on ${formatInstant(request.answered, zone)}`}
      {request.change !== null && (
        <>
          {', with '}
          <Link className="quiet" to={`/logbook/${request.change}`}>
            change {request.change}
          </Link>
        </>
      )}
      {request.sentence && <span className="block font-normal">“{request.sentence}”</span>}
    </p>
  );
}

function Answering({ request }: { request: Line }) {
  const after = useAfterDraft();
  const queries = useQueryClient();
  const [sentence, setSentence] = useState('');
  const where = { workspace: request.workspace ?? undefined, ...after.query };
  const remedies = useQuery({
    queryKey: ['remedies', 'request', request.id, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/gate-remedies', {
          params: { query: { account: request.account, setting: request.setting, ...where } },
        }),
      ),
  });
  const ways = useQuery({
    queryKey: ['ways', 'request', request.id, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/ways', {
          params: {
            query: {
              target: `account:${request.account}`,
              setting: request.setting,
              value: JSON.stringify(request.wanted),
              ...after.query,
            },
          },
        }),
      ),
  });
  const declining = useMutation({
    mutationFn: () =>
      expectEmpty(
        api.POST('/api/v1/requests/{id}/declines', { params: { path: { id: request.id } }, body: { sentence } }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['requests'] });
      await queries.invalidateQueries({ queryKey: ['today'] });
    },
  });
  const untold = remedies.error ?? ways.error;
  const gates = remedies.data?.gates ?? [];
  const named = (ways.data?.ways ?? [])
    // What alters nothing and opens the way to no gate grants nothing.
    .filter((w) => w.brings === true && ((w.ripple?.accounts ?? 0) > 0 || (w.blocked ?? 0) > 0))
    .sort((a, b) => (a.ripple?.accounts ?? 0) - (b.ripple?.accounts ?? 0));
  return (
    <>
      <section aria-label="What would grant it" className="mt-4">
        <h3 className="font-display text-[16px] font-semibold">What would grant it</h3>
        {(remedies.isPending || ways.isPending) && <p className="text-ink2">Each way is tried…</p>}
        {untold && (
          <ErrorNotice
            error={untold}
            onRetry={() => {
              void remedies.refetch();
              void ways.refetch();
            }}
          />
        )}
        {remedies.data && ways.data && gates.length === 0 && named.length === 0 && (
          <p>No single edit would grant it. The ladder tells what decides.</p>
        )}
        {gates.map((gate) => (
          <div key={gate.gate} className="mt-1">
            <p className="text-ink2 text-[13px]">{gate.need}</p>
            {gate.remedies.length === 0 && (
              <p className="border-line border-t py-1.5">No single edit opens this gate.</p>
            )}
            <ul className="border-line border-t empty:border-0" aria-label={gate.need}>
              {gate.remedies.map((remedy) => (
                <GateRemedyOption key={remedy.words} remedy={remedy} />
              ))}
            </ul>
          </div>
        ))}
        {remedies.data && named.length > 0 && (
          <>
            {gates.length > 0 && <p className="text-ink2 mt-2 text-[13px]">And where it is decided</p>}
            <ul className="border-line border-t empty:border-0" aria-label="Where it is decided">
              {named.map((way) => (
                <ChangeOption
                  key={JSON.stringify(way.edit)}
                  words={
                    way.excepts
                      ? `An exception from “${way.name}”`
                      : way.fresh
                        ? `A policy for this person alone, “${way.name}”`
                        : `In “${way.name}”`
                  }
                  says={
                    way.stays
                      ? `not enough alone; then: ${way.stays} What opens that is offered once this is in the draft.`
                      : way.ripple
                        ? impactSentence(way.ripple)
                        : ''
                  }
                  edit={way.edit}
                />
              ))}
            </ul>
          </>
        )}
        <p className="text-ink2 mt-2 text-[13px]">
          What you stage is a draft like any other; when it is published, {request.name} is told by itself.
        </p>
      </section>
      <form
        className="mt-5"
        onSubmit={(e) => {
          e.preventDefault();
          declining.mutate();
        }}
      >
        <h3 className="font-display text-[16px] font-semibold">Or decline it</h3>
        <textarea
          className="field mt-1 h-auto! w-full py-1.5"
          rows={2}
          aria-label="Why not, for the person to read"
          placeholder={`Why not, for ${request.name} to read`}
          value={sentence}
          onChange={(e) => setSentence(e.target.value)}
        />
        {declining.error && <p className="text-shut">{problemOf(declining.error)}</p>}
        <button className="button mt-1" type="submit" disabled={declining.isPending || sentence.trim() === ''}>
          {declining.isPending ? 'Declining…' : 'Decline'}
        </button>
      </form>
    </>
  );
}
