import { RefusedError } from '../api/client';

/** Says what went wrong, that nothing was lost, and what to do. */
export function ErrorNotice({ error, onRetry }: { error: Error; onRetry?: () => void }) {
  // What does not exist will not come by asking again.
  const missing = error instanceof RefusedError && error.problem.status === 404;
  const title = error instanceof RefusedError ? error.problem.title : 'Something went wrong on this page';
  return (
    <div role="alert" className="max-w-xl p-8">
      <h2 className="font-display text-lg font-semibold">{title}</h2>
      <p className="mt-1">{error.message}</p>
      {onRetry && !missing && (
        <button className="button mt-3" onClick={onRetry}>
          Try again
        </button>
      )}
    </div>
  );
}
