import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { account, useQuestion, writeQuestion } from '../question/question';
import { useSession } from './queries';

/** After how long a page that says nothing counts as away. */
const SILENT_MS = 8000;

/** What the address of a ladder says where their page stands beside it. */
const BESIDE = '?theirs=1';

/** Where the simulated suite is; nothing where none runs. */
export const useSuite = (): string | undefined => useSession().data?.suite ?? undefined;

/** Leads to what somebody sees in the suite; nothing where none runs. */
export function ViewAs({ id, name }: { id: string; name: string }) {
  const suite = useSuite();
  const [question] = useQuestion();
  if (!suite) return null;
  return (
    <Link
      className="quiet shrink-0 text-[13px]"
      aria-label={`Show me as ${name}`}
      title={`Show me as ${name}`}
      to={`/their${writeQuestion({ ...question, who: account(id), when: undefined })}`}
    >
      As them
    </Link>
  );
}

/** How a setting stands on a page of the suite. @param app where its control is */
export interface Control {
  key: string;
  title: string;
  app: string;
  shown: 'there' | 'greyed' | 'absent';
  words: string;
}

interface Told {
  kind?: string;
  key?: string;
  app?: string;
  controls?: Control[];
}

/**
 * A page of the suite as one account sees it, and below it what does not stand there, each leading to its ladder.
 *
 * @param at what the page's clock shows; now when left out
 * @param settled whether the person has done what makes things show
 */
export function SuitePage(props: {
  who: string;
  title: string;
  app?: string;
  at?: string;
  settled?: boolean;
  /** Hears which app is looked at, and how everything stands on the page. */
  onShown?: (app: string, controls: Control[]) => void;
}) {
  const suite = useSuite();
  const [question] = useQuestion();
  const navigate = useNavigate();
  const frame = useRef<HTMLIFrameElement>(null);
  const [missing, setMissing] = useState<Control[]>([]);
  const [attempt, setAttempt] = useState(0);
  const [silent, setSilent] = useState(false);
  const { onShown, who } = props;
  const ladder = useCallback(
    (key: string) =>
      `/ladder${writeQuestion({ ...question, who: account(who), what: { id: key }, when: undefined }, BESIDE)}`,
    [question, who],
  );
  useEffect(() => {
    const away = window.setTimeout(() => setSilent(true), SILENT_MS);
    const hear = (event: MessageEvent<Told>) => {
      if (event.origin !== suite || event.source !== frame.current?.contentWindow) return;
      window.clearTimeout(away);
      if (event.data.kind === 'suite-ask' && event.data.key) void navigate(ladder(event.data.key));
      if (event.data.kind === 'suite-page') {
        const { app = '', controls = [] } = event.data;
        setMissing(controls.filter((c) => c.app === app && c.shown !== 'there'));
        onShown?.(app, controls);
      }
    };
    window.addEventListener('message', hear);
    return () => {
      window.clearTimeout(away);
      window.removeEventListener('message', hear);
    };
  }, [suite, navigate, ladder, onShown, attempt]);
  if (!suite) return null;
  const query = new URLSearchParams({ as: props.who, beside: '1' });
  if (props.app) query.set('app', props.app);
  if (props.at) query.set('at', props.at);
  if (props.settled) query.set('deed', 'clear');
  return (
    <figure className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label={props.title}>
      <figcaption className="text-ink2 pb-1 font-semibold">{props.title}</figcaption>
      {silent ? (
        <div className="border-line2 bg-sheet flex min-h-72 w-full flex-1 flex-col items-center justify-center gap-3 rounded border p-8 text-center">
          <p role="alert" className="max-w-sm">
            The suite at {suite.replace(/^https?:\/\//, '')} does not answer. What is in effect is on the ladder all the
            same.
          </p>
          <p className="flex items-center gap-3">
            <button
              className="button"
              onClick={() => {
                setSilent(false);
                setAttempt(attempt + 1);
              }}
            >
              Try again
            </button>
            <Link className="quiet" to={`/ladder${writeQuestion({ ...question, who: account(who), when: undefined })}`}>
              To the ladder
            </Link>
          </p>
        </div>
      ) : (
        <iframe
          key={attempt}
          ref={frame}
          title={props.title}
          src={`${suite}/?${query.toString()}`}
          className="border-line2 min-h-72 w-full flex-1 rounded border"
        />
      )}
      {missing.length > 0 && (
        <p className="text-ink2 max-h-24 overflow-y-auto pt-1.5 text-[13px]">
          Not there on this page:{' '}
          {missing.map((m, i) => (
            <span key={m.key}>
              {i > 0 && ', '}
              <Link className="quiet" to={ladder(m.key)}>
                {m.title}
              </Link>
              {m.shown === 'greyed' && ' (grey)'}
            </span>
          ))}
          .
        </p>
      )}
    </figure>
  );
}
