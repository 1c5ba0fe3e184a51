import { useState } from 'react';
import { RefusedError, problemText, type Draft, type Problem, type PublishedReceipt, type Review } from '../api/client';
import { useDraft } from '../draft/draft';
import { stuckText } from '../draft/impactText';
import { DateField } from '../parts/DateField';
import { formatInstant } from '../text/dates';
import { settlingWords } from './settling';
import { clock } from '../text/clock';
import { Select } from '../parts/Select';
import { Alert } from '../parts/Alert';

/** The next whole hour after the coming one. */
const inAnHour = () =>
  new Date(Math.ceil(clock().getTime() / 3_600_000 + 1) * 3_600_000).toISOString().replace('.000Z', 'Z');

/** The note, when to publish, and the one press that does it. */
export function PublishBar(props: {
  draft: Draft;
  zone: string;
  settling: Review['settling'];
  onPublished: (receipt: PublishedReceipt) => void;
  onScheduled: (draft: Draft) => void;
}) {
  const { draft, zone } = props;
  const drafting = useDraft();
  const [note, setNote] = useState(draft.note);
  const [later, setLater] = useState(false);
  const [at, setAt] = useState<string | undefined>(() => inAnHour());
  const [sending, setSending] = useState(false);
  const [problem, setProblem] = useState<Problem>();
  const [missing, setMissing] = useState(false);
  const publish = async () => {
    if (later && at === undefined) return setMissing(true);
    setMissing(false);
    setSending(true);
    setProblem(undefined);
    try {
      const told = await drafting.publish(note, later ? (at ?? null) : null);
      if ('number' in told) props.onPublished(told);
      else {
        drafting.putAside();
        props.onScheduled(told);
      }
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setProblem(error.problem);
    } finally {
      setSending(false);
    }
  };
  return (
    <form
      className="border-line2 bg-paper border-t px-6 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void publish();
      }}
    >
      {props.settling.length > 0 && (
        <p className="text-ink2 mb-2 text-[13px]">{settlingWords(props.settling).join('. ')}.</p>
      )}
      {problem && <Alert className="mb-2">{problemText(problem)}</Alert>}
      {missing && <Alert className="mb-2">Type when it is to be published, such as “tomorrow 8:00”.</Alert>}
      {draft.due && (
        <p className="mb-2">
          {draft.stuck ? (
            <span className="text-shut">{stuckText(draft, zone)}</span>
          ) : (
            `It publishes itself on ${formatInstant(draft.due, zone)}, unless it is edited.`
          )}{' '}
          <button type="button" className="quiet" onClick={drafting.unschedule}>
            Cancel schedule
          </button>
        </p>
      )}
      <div className="flex flex-wrap items-start gap-3">
        <input
          className="field min-w-48 flex-1"
          aria-label="Note"
          placeholder="Why? The logbook keeps it, and whoever asks later reads it"
          maxLength={4000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <Select
          label="When to publish"
          value={later ? 'later' : 'now'}
          options={[
            { value: 'now', label: 'now' },
            { value: 'later', label: 'at a set time' },
          ]}
          onChange={(v) => setLater(v === 'later')}
        />
        {later && <DateField label="Publish at" zone={zone} of="instant" side="future" value={at} onChange={setAt} />}
        <button
          className="bg-draft h-9 rounded-[3px] px-5 font-semibold text-[light-dark(#fff,#1a120d)] disabled:opacity-60"
          disabled={sending || !draft.stands}
          title={draft.stands ? undefined : 'Resolve the conflicts first'}
        >
          {sending ? 'Publishing…' : later ? 'Schedule' : 'Publish'}
        </button>
      </div>
    </form>
  );
}
