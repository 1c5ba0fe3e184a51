import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, RefusedError, unwrap, type Draft } from '../api/client';
import { useDraft } from '../draft/draft';
import { formatInstant } from '../text/dates';
import { Alert } from '../parts/Alert';

/** That a draft is scheduled: when it publishes itself, and how to keep it from that. */
export function ScheduledPage(props: { draft: Draft; zone: string; onCancelled: () => void }) {
  const { draft, zone } = props;
  const { takeUp } = useDraft();
  const queries = useQueryClient();
  const [refusal, setRefusal] = useState('');
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const cancel = async () => {
    try {
      await unwrap(
        api.PATCH('/api/v1/drafts/{id}', {
          params: { path: { id: draft.id } },
          body: { version: draft.version, due: null },
        }),
      );
      await queries.invalidateQueries({ queryKey: ['draft', draft.id] });
      takeUp(draft.id);
      props.onCancelled();
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setRefusal(error.problem.detail);
    }
  };
  return (
    <div className="h-full overflow-y-auto px-8 py-7" role="region" aria-label="Receipt">
      <h1 ref={heading} tabIndex={-1} className="font-display text-[22px] font-bold outline-none">
        Scheduled for {formatInstant(draft.due ?? '', zone)}
      </h1>
      <p className="mt-2 max-w-2xl">
        {draft.name || 'The draft'} publishes itself then. Until then it is among the saved drafts; an edit cancels the
        schedule. If somebody publishes something that conflicts with it, Today says so at once.
      </p>
      <Alert className="mt-2">{refusal}</Alert>
      <p className="mt-4 flex gap-2">
        <button className="button" onClick={() => void cancel()}>
          Cancel schedule
        </button>
        <button className="button" onClick={() => takeUp(draft.id)}>
          Open the draft
        </button>
      </p>
    </div>
  );
}
