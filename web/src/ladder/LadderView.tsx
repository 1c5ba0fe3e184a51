import { usePageTitle } from '../parts/usePageTitle';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Climb, Session } from '../api/client';
import { rememberQuery } from '../parts/recentQueries';
import { useCatalogue, useClimb } from '../parts/queries';
import { SuitePage, useSuite } from '../parts/SuitePage';
import { useDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { draftOf, unreadable, useQuestion, writeQuestion } from '../question/question';
import { isPast, formatWhen } from '../text/dates';
import { AccountColumn } from './AccountColumn';
import { DistributionLadder } from './DistributionLadder';
import { DrawnLadder } from './DrawnLadder';
import { GateRemedies } from './GateRemedies';
import { History } from '../parts/History';
import { LastUse } from '../parts/Usage';
import { Picture } from '../parts/Picture';
import { DeliveryCheckLine } from '../parts/DeliveryChecks';
import { SettlingLine } from './SettlingLine';
import { PolicyAside } from './PolicyAside';
import { ChangeHere } from './ChangeHere';
import { LadderHome } from './LadderHome';
import { PersonOverview } from './PersonOverview';
import { CopyMenu } from './CopyMenu';
import { Alert } from '../parts/Alert';

/** One account: its settings at the left, the drawn ladder of one of them in the middle, the deciding policy at the right. */
export function LadderView({ session }: { session?: Session }) {
  const [question, ask] = useQuestion();
  const climb = useClimb(question);
  const [chosen, setChosen] = useState<{ policy: string; of: string }>();
  const here = `${question.who?.id} ${question.what?.id}`;
  const picked = chosen?.of === here ? chosen.policy : undefined;
  const zone = session?.organisation?.timeZone ?? 'UTC';
  usePageTitle(climb.data ? `${climb.data.drawing.setting} · ${climb.data.drawing.account}` : 'Ladder');
  useEffect(() => {
    if (climb.data && !climb.isPlaceholderData && question.when === undefined)
      rememberQuery({
        query: writeQuestion(question),
        words: `${climb.data.drawing.account} · ${climb.data.drawing.setting}`,
      });
  }, [climb.data, climb.isPlaceholderData, question]);
  const now = useClimb(draftOf(question.when) === undefined ? {} : { ...question, when: undefined });
  const { draft } = useDraft();
  const suite = useSuite();
  const [search, setSearch] = useSearchParams();
  const theirs = suite !== undefined && search.get('theirs') === '1';
  const catalogue = useCatalogue();
  const app = catalogue.data?.settings.find((s) => s.key === question.what?.id)?.app;
  const toggle = () => {
    const query = new URLSearchParams(search);
    if (theirs) query.delete('theirs');
    else query.set('theirs', '1');
    setSearch(query);
  };
  const wrong = unreadable(search.toString());
  if (!question.who)
    return (
      <>
        <Alert className="px-8 pt-4">{wrong}</Alert>
        <LadderHome zone={zone} />
      </>
    );
  if (question.who.kind !== 'account')
    return <DistributionLadder question={question} stands={stands(question.when, zone, draft?.name)} />;
  return (
    <div className="flex h-full min-h-0 max-[1023px]:flex-col max-[1023px]:overflow-y-auto">
      <AccountColumn question={question} ask={ask} />
      <div className="flex min-h-0 min-w-0 flex-1 max-[1179px]:flex-col max-[1179px]:overflow-y-auto max-[1023px]:flex-none max-[1023px]:overflow-visible">
        <section
          aria-label="Answer"
          className="min-w-0 flex-1 overflow-y-auto px-5 pt-4 pb-6 max-[1179px]:flex-none max-[1179px]:overflow-visible"
        >
          {!question.what ? (
            <PersonOverview question={question} zone={zone} />
          ) : climb.isError ? (
            <ErrorNotice error={climb.error} onRetry={() => void climb.refetch()} />
          ) : climb.data ? (
            <Answered
              climb={climb.data}
              before={draftOf(question.when) === undefined ? undefined : now.data}
              drafted={draftOf(question.when) === undefined ? undefined : differing(now.data, climb.data)}
              stands={stands(question.when, zone, draft?.name)}
              zone={zone}
              chosen={picked ?? climb.data.outcome.policy ?? undefined}
              theirs={suite ? { shown: theirs, toggle } : undefined}
              onChoose={(policy) => setChosen({ policy, of: here })}
            />
          ) : (
            <p className="text-ink2">Climbing the ladder…</p>
          )}
        </section>
        {theirs ? (
          <div className="border-line flex min-h-[480px] w-[46%] shrink-0 flex-col border-l px-4 pt-4 pb-3 max-[1179px]:w-full">
            <SuitePage
              key={question.who.id}
              who={question.who.id}
              title={`What ${climb.data?.drawing.account ?? 'this person'} sees now`}
              app={app}
            />
          </div>
        ) : (
          climb.data &&
          question.what &&
          draftOf(question.when) === undefined && (
            <PolicyAside
              policy={picked ?? climb.data.outcome.policy ?? undefined}
              deciding={climb.data.outcome.policy ?? undefined}
              setting={climb.data.outcome.setting}
            />
          )
        )}
      </div>
    </div>
  );
}

function Answered(props: {
  climb: Climb;
  /** How it stands without the draft, where it is asked for after one. */
  before?: Climb;
  drafted?: Set<string>;
  stands: string;
  zone: string;
  chosen?: string;
  /** Whether what the person sees stands beside the ladder; missing where no suite runs. */
  theirs?: { shown: boolean; toggle: () => void };
  onChoose: (policy: string) => void;
}) {
  const { climb } = props;
  const { drawing } = climb;
  const [question, ask] = useQuestion();
  const [box, width, room] = useRoom(props.before !== undefined);
  return (
    <>
      <div className="flex items-start gap-4">
        <h1 className="font-display min-w-0 flex-1 text-[20px] leading-[27px] break-words" data-testid="outcome">
          <strong className="text-[22px] font-bold">{drawing.answer}.</strong>{' '}
          {drawing.because.map((piece, i) =>
            piece.policy ? (
              <button
                key={i}
                className="border-decide hover:bg-well inline border-b-2 text-left font-semibold"
                onClick={() => props.onChoose(piece.policy ?? '')}
              >
                {piece.text}
              </button>
            ) : (
              <span key={i}>{piece.text}</span>
            ),
          )}
        </h1>
        {props.theirs && (
          <button className="button no-print shrink-0" aria-pressed={props.theirs.shown} onClick={props.theirs.toggle}>
            {props.theirs.shown ? 'Close their view' : 'Their view'}
          </button>
        )}
        <CopyMenu climb={climb} />
      </div>
      <p className="text-ink2 mt-1 text-[13px]">
        {props.stands}, change {climb.change}.
        {question.who && question.what && <LastUse account={question.who.id} setting={question.what.id} />}
        {climb.outcome.dependsOnWorkspace && ' Can differ by workspace: name one under Where.'}
      </p>
      {/* Now, the control that changes it shows the picture. */}
      {question.when !== undefined && (
        <div className="mt-2 flex flex-wrap gap-4">
          {props.before && <Picture value={props.before.outcome.value} className="h-20" />}
          <Picture value={climb.outcome.value} className="h-20" />
        </div>
      )}
      {!props.before && <SettlingLine change={climb.change} />}
      <DeliveryCheckLine />
      {props.before && <Turn before={props.before} after={climb} />}
      <ChangeHere accounts={1} current={climb.outcome.value} />
      <div className={props.before ? '' : BESIDE}>
        <div ref={box} className={props.before ? 'mt-3 flex flex-wrap gap-x-4 gap-y-6' : 'mt-3 min-w-0'}>
          {width > 0 &&
            (props.before ? (
              <>
                {(
                  [
                    ['Now', props.before, undefined],
                    ['After the draft', climb, props.drafted],
                  ] as const
                ).map(([title, one, drafted]) => (
                  <figure key={title} className="min-w-0" aria-label={title}>
                    <figcaption className={drafted ? 'text-draft font-semibold' : 'text-ink2 font-semibold'}>
                      {title}
                    </figcaption>
                    <DrawnLadder
                      drawing={one.drawing}
                      width={Math.max(400, Math.floor((width - 20) / 2))}
                      room={room - 60}
                      chosen={props.chosen}
                      drafted={drafted}
                      onChoose={props.onChoose}
                    />
                  </figure>
                ))}
              </>
            ) : (
              <DrawnLadder
                drawing={drawing}
                width={width}
                room={room}
                chosen={props.chosen}
                onChoose={props.onChoose}
                onClimb={(setting) => ask({ ...question, what: { id: setting } })}
              />
            ))}
        </div>
        <div className="min-w-0">
          <GateRemedies climb={climb} />
          {question.who && question.what && (
            <History about={{ account: question.who.id, setting: question.what.id }} zone={props.zone} heading="h2" />
          )}
        </div>
      </div>
    </>
  );
}

/** On a wide screen what can be done, and the history, stand beside the ladder instead of below it. */
const BESIDE = 'min-[1600px]:grid min-[1600px]:grid-cols-[minmax(0,780px)_minmax(320px,1fr)] min-[1600px]:gap-x-8';

/** The policies whose word on this setting is not the same on both ladders. */
function differing(before: Climb | undefined, after: Climb): Set<string> {
  const told = (climb: Climb | undefined, policy: string) =>
    JSON.stringify(
      climb?.drawing.statements
        .filter((s) => s.policy === policy)
        .map((s) => [s.rung, s.cap, s.lock, s.value, s.via, s.verdict === 'paused']),
    );
  return new Set(after.drawing.statements.map((s) => s.policy).filter((p) => told(before, p) !== told(after, p)));
}

/** What the draft makes of the answer, in one line. */
function Turn({ before, after }: { before: Climb; after: Climb }) {
  const same = before.drawing.value === after.drawing.value;
  return (
    <p className="border-draft bg-paper mt-2 border-l-4 px-3 py-1.5" role="status">
      {same ? (
        <>
          The draft leaves the value at <strong className="font-semibold">{after.drawing.value}</strong>
          {before.outcome.policy !== after.outcome.policy && '; another statement decides'}.
        </>
      ) : (
        <>
          The draft turns it from <s className="text-ink2">{before.drawing.value}</s> to{' '}
          <strong className="text-draft font-semibold">{after.drawing.value}</strong>.
        </>
      )}
    </p>
  );
}

/** How the answer stands in time. */
function stands(when: string | undefined, zone: string, draft?: string): string {
  if (!when) return 'As it stands now';
  if (draftOf(when) !== undefined) return `As it would stand after ${draft || 'the draft'}`;
  const words = when.includes('T') ? `on ${formatWhen(when, zone)}` : `at the ${formatWhen(when, zone)}`;
  return isPast(when, zone) ? `As it stood ${words}` : `As it will stand ${words}, when nothing else is published`;
}

/** The width of a box, and the height from its top to the bottom of the window. */
function useRoom(wide: boolean): [React.RefObject<HTMLDivElement | null>, number, number] {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, room: 0 });
  useEffect(() => {
    const box = ref.current;
    if (!box) return;
    const measure = () =>
      setSize({
        width: Math.max(480, Math.min(wide ? 1560 : 780, Math.floor(box.clientWidth))),
        room: Math.floor(window.innerHeight - box.getBoundingClientRect().top - 28),
      });
    const watch = new ResizeObserver(measure);
    watch.observe(box);
    window.addEventListener('resize', measure);
    return () => {
      watch.disconnect();
      window.removeEventListener('resize', measure);
    };
  }, [wide]);
  return [ref, size.width, size.room];
}
