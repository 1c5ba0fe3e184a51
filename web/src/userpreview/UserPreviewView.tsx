import { useCallback, useState } from 'react';
import { usePageTitle } from '../parts/usePageTitle';
import { Link, useSearchParams } from 'react-router';
import type { Session } from '../api/client';
import { EntityPicker } from '../parts/EntityPicker';
import { useAccount, useCatalogue } from '../parts/queries';
import { useSettlingChanges } from '../parts/settling';
import { SuitePage, useSuite, type Control } from '../parts/SuitePage';
import { ErrorNotice } from '../parts/ErrorNotice';
import { account, unreadable, useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';
import { Alert } from '../parts/Alert';

/** What somebody sees in the suite: now and when settled, or beside somebody else. */
export function UserPreviewView({ session }: { session?: Session }) {
  const [question] = useQuestion();
  const [search, setSearch] = useSearchParams();
  const suite = useSuite();
  const me = useAccount(question);
  const beside = search.get('beside') ?? undefined;
  const other = useAccount({ who: beside ? account(beside) : undefined });
  const settling = useSettlingChanges();
  const catalogue = useCatalogue();
  const [app, setApp] = useState<string>();
  const [here, setHere] = useState<Control[]>([]);
  const [there, setThere] = useState<Control[]>([]);
  const onHere = useCallback((next: string, controls: Control[]) => {
    setApp(next);
    setHere(controls);
  }, []);
  const onThere = useCallback((_: string, controls: Control[]) => setThere(controls), []);
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const name = me.data?.displayName;
  usePageTitle(name ? `What ${name} sees` : 'Their view');
  if (session && !suite)
    return (
      <p className="max-w-xl p-8">
        No simulated suite runs beside this server. Start it with <code>./ladder up</code> and without{' '}
        <code>--suite-port 0</code>, and what people see is shown here.
      </p>
    );
  const wrong = unreadable(search.toString());
  if (wrong || me.isError)
    return <div className="p-8">{wrong ? <Alert>{wrong}</Alert> : me.error && <ErrorNotice error={me.error} />}</div>;
  if (question.who?.kind !== 'account')
    return (
      <p className="text-ink2 max-w-xl p-8">
        Choose a person under <em>Who</em>, or press <kbd>/</kbd> and type a name. Here stands what that person sees in
        the suite: what is there, what is grey and with which notice, and what is missing.
      </p>
    );
  const asked = catalogue.data?.settings.find((s) => s.key === question.what?.id)?.app;
  const until = settling.data?.until ?? undefined;
  const put = (next: string | undefined) => {
    const query = new URLSearchParams(search);
    if (next) query.set('beside', next);
    else query.delete('beside');
    setSearch(query);
  };
  return (
    <div className="flex h-full min-h-0 flex-col px-5 pt-4 pb-4">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 pb-3">
        <h1 className="font-display text-[20px] font-semibold">
          {beside
            ? `What ${name ?? 'this person'} and ${other.data?.displayName ?? 'somebody else'} see`
            : `What ${name ?? 'this person'} sees`}
        </h1>
        <p className="text-ink2 text-[13px]">
          {until
            ? `Changes are on their way; they have arrived by ${formatInstant(until, zone)}.`
            : 'Nothing is on its way; what is in effect has arrived.'}
        </p>
        <div className="ml-auto flex items-baseline gap-3">
          <Link className="quiet" to={`/ladder${writeQuestion(question)}`}>
            To the ladder
          </Link>
          {beside && (
            <button className="button" onClick={() => put(undefined)}>
              Now and when settled
            </button>
          )}
          <div className="w-56">
            <EntityPicker label="Beside somebody else" kinds="account" onPick={(hit) => put(hit.id)} />
          </div>
        </div>
      </div>
      <Differences here={here} there={there} />
      <div className="flex min-h-0 flex-1 gap-4 max-[1023px]:flex-col max-[1023px]:overflow-y-auto">
        <SuitePage who={question.who.id} title={beside ? (name ?? '') : 'Now'} app={asked} onShown={onHere} />
        {beside ? (
          <SuitePage key={beside} who={beside} title={other.data?.displayName ?? ''} app={app} onShown={onThere} />
        ) : (
          <SuitePage
            key={until}
            who={question.who.id}
            title={until ? `When settled: ${formatInstant(until, zone)}, after a restart` : 'After a restart'}
            app={app}
            at={until}
            settled
            onShown={onThere}
          />
        )}
      </div>
    </div>
  );
}

/** What is not the same on both pages, in words; each leads to its ladder. */
function Differences({ here, there }: { here: Control[]; there: Control[] }) {
  const [question] = useQuestion();
  const pairs = here.flatMap((one) => {
    const other = there.find((c) => c.key === one.key);
    return other && (other.shown !== one.shown || other.words !== one.words) ? [{ one, other }] : [];
  });
  if (here.length === 0 || there.length === 0) return null;
  return (
    <p role="status" className="max-h-20 overflow-y-auto pb-3">
      {pairs.length === 0 ? (
        'Both pages are the same.'
      ) : (
        <>
          They differ in {count(pairs.length, 'setting')}:{' '}
          {pairs.map(({ one, other }, i) => (
            <span key={one.key}>
              {i > 0 && ', '}
              <Link
                className="quiet"
                to={`/ladder${writeQuestion({ ...question, what: { id: one.key } }, '?theirs=1')}`}
              >
                {one.title}
              </Link>{' '}
              <span className="text-ink2">
                ({stands(one)} → {stands(other)})
              </span>
            </span>
          ))}
          .
        </>
      )}
    </p>
  );
}

const stands = (c: Control) => (c.shown === 'there' ? c.words : c.shown === 'greyed' ? 'grey' : 'not there');
