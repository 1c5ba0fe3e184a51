import { clsx } from 'clsx';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { useSession } from './parts/queries';
import { DraftBar } from './frame/DraftBar';
import { DraftProvider } from './draft/draft';
import { ViewFailure } from './frame/ViewFailure';
import { KeyboardShortcuts } from './frame/KeyboardShortcuts';
import { QueryBar } from './frame/QueryBar';
import { ErrorNotice } from './parts/ErrorNotice';
import { StartPage } from './frame/StartPage';
import { NavRail } from './frame/NavRail';
import { useQuestion } from './question/question';
import { SettlingBar } from './frame/SettlingBar';
import { useEvents } from './frame/useEvents';
import { useHealth } from './frame/useHealth';
import { useTheme } from './frame/theme';
import { MAIN_VIEWS, MOVED, OTHER_VIEWS } from './views';

export function App() {
  return (
    <DraftProvider>
      <Frame />
    </DraftProvider>
  );
}

function Frame() {
  const session = useSession();
  const { pathname } = useLocation();
  const [theme, setTheme] = useTheme();
  const trouble = useHealth();
  const [notice, dismiss] = useEvents(session.data?.organisation?.timeZone ?? 'UTC');
  return (
    <div className="text-ink flex h-full flex-col">
      <a href="#view" className="bg-decide text-on-decide sr-only z-50 p-2 focus:not-sr-only focus:absolute">
        Skip to the view
      </a>
      <QueryBar session={session.data} theme={theme} onTheme={setTheme} />
      <div className="flex min-h-0 flex-1">
        <NavRail views={MAIN_VIEWS} />
        <main id="view" tabIndex={-1} className="bg-sheet min-w-0 flex-1 outline-none">
          {session.isError ? (
            <ErrorNotice error={session.error} onRetry={() => void session.refetch()} />
          ) : session.data?.organisation === null ? (
            <StartPage />
          ) : (
            <ViewFailure address={pathname}>
              <Routes>
                {[...MAIN_VIEWS, ...OTHER_VIEWS].flatMap(({ path, parameters, render }) =>
                  parameters.map((rest) => (
                    <Route key={path + rest} path={`/${path}/${rest}`} element={render(session.data)} />
                  )),
                )}
                {Object.entries(MOVED).map(([from, to]) => (
                  <Route key={from} path={`/${from}`} element={<MovedTo path={`/${to}`} />} />
                ))}
                <Route path="*" element={<First />} />
              </Routes>
            </ViewFailure>
          )}
        </main>
      </div>
      {(trouble || notice) && (
        <div role="status" className="bg-paper border-line2 no-print flex items-center gap-3 border-t px-5 py-1.5">
          <span className={clsx('h-4 w-1 shrink-0', trouble ? 'bg-shut' : 'bg-decide')} aria-hidden />
          {trouble ? (
            <span className="min-w-0">{trouble}</span>
          ) : (
            <>
              <span className="min-w-0 truncate">{notice}.</span>
              <button className="quiet ml-auto text-[13px]" onClick={dismiss}>
                Good
              </button>
            </>
          )}
        </div>
      )}
      {session.data?.organisation && <SettlingBar zone={session.data.organisation.timeZone ?? 'UTC'} />}
      <DraftBar />
      <KeyboardShortcuts views={MAIN_VIEWS} />
    </div>
  );
}

/** Whoever brings a question gets its answer; whoever brings none, what waits today. */
function First() {
  const [question] = useQuestion();
  const asks = question.who !== undefined || question.what !== undefined;
  return <Navigate to={{ pathname: asks ? '/ladder' : '/today', search: window.location.search }} replace />;
}

/** An address that was noted before a view got another one. */
function MovedTo({ path }: { path: string }) {
  return <Navigate to={{ pathname: path, search: window.location.search }} replace />;
}
