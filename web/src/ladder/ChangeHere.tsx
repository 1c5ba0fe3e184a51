import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { api, unwrap, type Schemas, type Setting } from '../api/client';
import { useAfterDraft, useDraft } from '../draft/draft';
import { impactSentence, people } from '../draft/impactText';
import { useCatalogue, useSession } from '../parts/queries';
import { TurnOff } from '../parts/TurnOff';
import { ValueControl } from '../parts/ValueControl';
import { draftOf, useQuestion, type Who } from '../question/question';
import { count } from '../text/words';
import { useStaging } from '../parts/useStaging';

type WayLine = Schemas['WayLine'];

/**
 * The values that a setting can have for those the question is about. Choosing one lists the ways to it, the smallest first; the first has
 * the focus, so that Enter adds it to the draft, and the answer then stands after the draft.
 */
export function ChangeHere({ accounts, current }: { accounts: number; current?: unknown }) {
  const [question, ask] = useQuestion();
  const { currentId } = useDraft();
  const [stage, refusal] = useStaging('');
  const catalogue = useCatalogue();
  const zone = useSession().data?.organisation?.timeZone ?? 'UTC';
  const [chosen, setChosen] = useState<{ of: string; value: unknown }>();
  const of = `${question.who?.id} ${question.what?.id} ${question.where?.id}`;
  const value = chosen?.of === of ? chosen.value : undefined;
  const setting = catalogue.data?.settings.find((s) => s.key === question.what?.id);
  const past = question.when !== undefined && draftOf(question.when) === undefined;
  if (!setting || !question.who || past) return null;
  const choose = (next: unknown) => {
    setChosen({ of, value: next });
  };
  const add = async (way: WayLine) => {
    if (!(await stage([way.edit]))) return;
    setChosen(undefined);
    ask({ ...question, when: `draft:${currentId()}` });
  };
  return (
    <section aria-label="Change it here" className="no-print mt-3 max-w-[780px]">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
        <span className="text-ink2">Change to</span>
        <Values setting={setting} value={value} current={current} onChoose={choose} />
        {value !== undefined ? (
          <button className="quiet text-[13px]" onClick={() => setChosen(undefined)}>
            Leave it
          </button>
        ) : (
          <TurnOff key={of} setting={setting} zone={zone} quiet />
        )}
      </div>
      {value !== undefined && (
        <Ways who={question.who} setting={setting} value={value} accounts={accounts} onAdd={(way) => void add(way)} />
      )}
      {refusal}
    </section>
  );
}

/** The ways to a value of another setting for the same account, such as one that is needed; they are added where they stand. */
export function WaysTo({ setting, value }: { setting: string; value: unknown }) {
  const [question] = useQuestion();
  const [stage, refusal] = useStaging('');
  const catalogue = useCatalogue();
  const found = catalogue.data?.settings.find((s) => s.key === setting);
  if (!found || !question.who) return null;
  return (
    <>
      <Ways
        who={question.who}
        setting={found}
        value={value}
        accounts={1}
        aside
        onAdd={(way) => void stage([way.edit])}
      />
      {refusal}
    </>
  );
}

/** The values as buttons, where they are few; else a field for one. */
function Values(props: { setting: Setting; value: unknown; current: unknown; onChoose: (value: unknown) => void }) {
  const { setting } = props;
  const [typed, setTyped] = useState<unknown>();
  const options: [unknown, string][] =
    setting.type === 'switch'
      ? [
          [true, 'On'],
          [false, 'Off'],
        ]
      : (setting.options ?? []).map((option) => [option, option.replaceAll('-', ' ')]);
  if (options.length > 0)
    return options.map(([value, words]) => (
      <button
        key={words}
        className={clsx('button', value === props.value && 'button-strong')}
        aria-pressed={value === props.value}
        disabled={value === props.current}
        title={value === props.current ? 'This is in effect' : undefined}
        onClick={() => props.onChoose(value)}
      >
        {words}
      </button>
    ));
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (typed !== undefined) props.onChoose(typed);
      }}
    >
      <ValueControl
        setting={setting}
        title={setting.title}
        value={typed ?? props.current}
        refused={false}
        onChange={setTyped}
      />
      <button className="button">Show the ways</button>
    </form>
  );
}

/** Whether a way leaves everybody asked about as they are. */
const isIdle = (way: WayLine, accounts: number) => way.refusal !== undefined || (way.leaves ?? 0) >= accounts;

/** The ways, those that bring the value to most of the people first, and of these the one that alters least. */
export function ordered(ways: WayLine[], accounts: number): WayLine[] {
  const cost = (way: WayLine) => [
    way.refusal !== undefined ? 2 : isIdle(way, accounts) ? 1 : 0,
    way.leaves ?? 0,
    way.ripple?.accounts ?? Number.MAX_SAFE_INTEGER,
  ];
  return [...ways].sort((a, b) => {
    const [x, y] = [cost(a), cost(b)];
    const at = x.findIndex((n, i) => n !== y[i]);
    return at < 0 ? 0 : (x[at] ?? 0) - (y[at] ?? 0);
  });
}

function Ways(props: {
  who: Who;
  setting: Setting;
  value: unknown;
  accounts: number;
  /** Whether they stand beside something else, and do not take the focus. */
  aside?: boolean;
  onAdd: (way: WayLine) => void;
}) {
  const { who, setting, value, accounts } = props;
  const [question] = useQuestion();
  const after = useAfterDraft();
  const target = who.kind === 'everyone' ? 'everyone' : `${who.kind}:${who.id}`;
  const found = useQuery({
    queryKey: ['ways', target, setting.key, value, question.where?.id, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/ways', {
          params: {
            query: {
              target,
              setting: setting.key,
              value: JSON.stringify(value),
              workspace: question.where?.id,
              ...after.query,
            },
          },
        }),
      ),
  });
  const [every, setEvery] = useState(false);
  const first = useRef<HTMLButtonElement>(null);
  const { aside } = props;
  useEffect(() => {
    if (!aside) first.current?.focus();
  }, [found.data, aside]);
  if (found.isPending) return <p className="text-ink2 mt-1">Each way is tried…</p>;
  if (found.isError) return <p className="text-shut mt-1">{found.error.message}</p>;
  const all = ordered(found.data.ways, accounts);
  const reachable = all.some((way) => !isIdle(way, accounts));
  // Of those that change nothing only a policy of its own is always offered.
  const ways = all.filter((way) => every || way.fresh || !isIdle(way, accounts) || (way.ripple?.accounts ?? 0) > 0);
  const why = all.find((way) => way.stays)?.stays;
  return (
    <>
      {!reachable && (
        <p role="status" className="text-shut mt-1">
          No single edit brings it. {why && `With the first of these it would be: ${why}`}
        </p>
      )}
      <ul className="border-line mt-1 border-t" aria-label="Ways">
        {ways.map((way, i) => (
          <li key={wayText(way)} className="border-line flex items-center gap-x-3 border-b py-1.5">
            <span className="min-w-0 flex-1">
              <strong className="font-semibold">{wayText(way)}</strong>
              <span className="text-ink2 block text-[13px]">{consequence(way)}</span>
              {left(way, accounts) && (reachable || way.stays !== why) && (
                <span className="text-shut block text-[13px]">{left(way, accounts)}</span>
              )}
            </span>
            {way.refusal === undefined && (
              <button ref={i === 0 ? first : undefined} className="button" onClick={() => props.onAdd(way)}>
                Add to draft
              </button>
            )}
          </li>
        ))}
        {ways.length < all.length && (
          <li className="py-1">
            <button className="quiet text-[13px]" onClick={() => setEvery(true)}>
              {count(all.length - ways.length, 'more policy changes nothing', 'more policies change nothing')}
            </button>
          </li>
        )}
      </ul>
    </>
  );
}

function wayText(way: WayLine): string {
  if (way.excepts) return `An exception from ${way.name}`;
  return way.fresh ? `A policy of its own, “${way.name}”` : `In ${way.name}`;
}

function consequence(way: WayLine): string {
  if (way.refusal !== undefined) return `It ${way.refusal}.`;
  if (!way.ripple || way.ripple.accounts === 0) return 'No value changes.';
  return `${people(way.ripple.accounts)} affected: ${impactSentence(way.ripple)}.`;
}

/** Whom the way leaves without the value. */
export function left(way: WayLine, accounts: number): string {
  const leaves = way.leaves ?? 0;
  if (leaves === 0 || way.refusal !== undefined) return '';
  if (way.stays) return `It would then be: ${way.stays}`;
  const blocked = way.blocked ?? 0;
  const whom = leaves >= accounts ? 'It changes nothing for those asked about' : `It leaves out ${people(leaves)}`;
  return blocked > 0 ? `${whom}; for ${people(blocked)} a closed gate blocks it.` : `${whom}.`;
}
