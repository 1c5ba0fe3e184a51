import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, problemText, unwrap, type Setting } from '../api/client';
import { useAfterDraft, useDraft } from '../draft/draft';
import { impactSentence, people } from '../draft/impactText';
import { useQuestion, writeQuestion } from '../question/question';
import { capital, joinList } from '../text/words';
import { DateField } from './DateField';
import { EntityPicker } from './EntityPicker';
import { ValueControl } from './ValueControl';
import { Alert } from './Alert';

/** What turning a setting off everywhere is called: the strict end of a setting need not be off. */
export function turnOffText(setting: Setting): string {
  if (!setting.cappable) return 'Lock for everyone now';
  return setting.type === 'switch' && setting.strict !== true ? 'Turn off everywhere now' : 'Strictest everywhere now';
}

/**
 * Gives everybody the strict end of a setting at once, or one value of a setting that has none; but for units and groups that are named,
 * and until an instant where one is. Who would still have another value is told before anything is staged.
 */
export function TurnOff({ setting, zone, quiet }: { setting: Setting; zone: string; quiet?: boolean }) {
  const [open, setOpen] = useState(false);
  const text = turnOffText(setting);
  if (!open)
    return (
      <button className={quiet ? 'quiet ml-auto text-[13px]' : 'button'} onClick={() => setOpen(true)}>
        {text}
      </button>
    );
  return (
    <section aria-label={text} className="border-shut bg-paper mt-2 w-full border-l-4 px-4 py-2">
      <div className="flex items-baseline gap-3">
        <h3 className="font-display flex-1 text-[16px] font-semibold">{text}</h3>
        <button className="quiet text-[13px]" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
      <Panel setting={setting} zone={zone} />
    </section>
  );
}

function Panel({ setting, zone }: { setting: Setting; zone: string }) {
  const [question] = useQuestion();
  const navigate = useNavigate();
  const { stage } = useDraft();
  const after = useAfterDraft();
  const [exceptions, setExceptions] = useState<{ target: string; name: string }[]>([]);
  const [until, setUntil] = useState<string>();
  const [value, setValue] = useState<unknown>();
  const [refusal, setRefusal] = useState('');
  const except = exceptions.map((e) => e.target);
  const found = useQuery({
    queryKey: ['turn off', setting.key, value, except, until, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/turn-off', {
          params: {
            query: {
              setting: setting.key,
              value: setting.cappable ? undefined : JSON.stringify(value),
              except,
              until,
              ...after.query,
            },
          },
        }),
      ),
    enabled: setting.cappable || value !== undefined,
    placeholderData: (before) => before,
  });
  const read = async () => {
    if (!found.data) return;
    const problem = await stage([found.data.edit]);
    if (problem) setRefusal(problemText(problem));
    else void navigate(`/review${writeQuestion({ ...question, when: undefined })}`);
  };
  return (
    <>
      {!setting.cappable && (
        <p className="mt-1 flex items-center gap-2">
          Lock it to
          <ValueControl setting={setting} title={setting.title} value={value} refused={false} onChange={setValue} />
        </p>
      )}
      <div className="mt-1 flex flex-wrap items-start gap-x-3">
        <span className="w-64">
          <EntityPicker
            label="Except a unit or group"
            kinds="unit,group"
            autoFocus
            refuse={(hit) => (except.includes(`${hit.kind}:${hit.id}`) ? 'Excepted already' : undefined)}
            onPick={(hit) => setExceptions([...exceptions, { target: `${hit.kind}:${hit.id}`, name: hit.title }])}
          />
        </span>
        <span className="flex items-start gap-2">
          <span className="leading-8">until</span>
          <DateField label="Off until" zone={zone} of="instant" side="future" until value={until} onChange={setUntil} />
        </span>
      </div>
      {exceptions.length > 0 && (
        <ul className="flex flex-wrap gap-2" aria-label="Exceptions">
          {exceptions.map((e) => (
            <li key={e.target} className="border-line2 rounded-[3px] border px-2">
              except {e.name}{' '}
              <button
                aria-label={`No exception for ${e.name}`}
                className="text-ink2 hover:text-ink px-0.5"
                onClick={() => setExceptions(exceptions.filter((other) => other !== e))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      {found.isError && <p className="text-shut">{found.error.message}</p>}
      {found.isPending && found.isFetching && <p className="text-ink2">Working out whom it affects…</p>}
      {found.data && (
        <>
          <p role="status" className="mt-1">
            <strong className="font-semibold">{people(found.data.ripple.accounts)} affected</strong>
            {found.data.ripple.accounts > 0 && `: ${impactSentence(found.data.ripple)}`}. Afterwards{' '}
            {capital(found.data.value)} for {people(found.data.have)}
            {found.data.deviations.length === 0
              ? ', which is everybody.'
              : `; still ${joinList(
                  found.data.deviations.map((d) => `${capital(d.value)} for ${people(d.accounts)} (${d.because})`),
                )}.`}
          </p>
          <p className="text-ink2 text-[13px]">
            {found.data.capped
              ? 'A new policy, first in the ranking, caps it for everyone; a cap binds locked values too.'
              : 'A new policy, first in the ranking, locks it for everyone.'}
          </p>
          <button className="button button-strong mt-2" disabled={found.isPlaceholderData} onClick={() => void read()}>
            Review
          </button>
        </>
      )}
      <Alert>{refusal}</Alert>
    </>
  );
}
