import { clsx } from 'clsx';
import { useState } from 'react';
import { RefusedError, problemText, type ImportResult } from '../api/client';
import { useDraft } from '../draft/draft';
import { VirtualRows } from './VirtualRows';
import { count } from '../text/words';
import { Select } from './Select';
import { Alert } from './Alert';

/** What a file can hold. @param columns that its first line names */
export interface FileKind<W extends string> {
  what: W;
  name: string;
  columns: string;
}

/** Lines of comma-separated values: every one is reported, then all that fit are one edit. */
export function ImportFile<W extends string>(props: {
  kinds: FileKind<W>[];
  initial: W;
  /**
   * Has the server look through the lines; it gets the file as it is, for only so can it tell in what encoding it was saved.
   *
   * @param columns the headings that were chosen, as JSON
   */
  read: (what: W, file: File, columns?: string) => Promise<ImportResult>;
  className?: string;
  onClose: () => void;
}) {
  const { kinds, onClose } = props;
  const { stage } = useDraft();
  const [what, setWhat] = useState(props.initial);
  const [file, setFile] = useState<File>();
  const [report, setReport] = useState<ImportResult>();
  const [refusal, setRefusal] = useState('');
  const [only, setOnly] = useState<'all' | 'refused'>('all');
  const look = async (chosen: File | undefined, as = what, columns?: Record<string, string>) => {
    setFile(chosen);
    if (!columns) setReport(undefined);
    setRefusal('');
    if (!chosen) return;
    try {
      setReport(await props.read(as, chosen, columns && JSON.stringify(columns)));
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setRefusal(error.problem.detail);
    }
  };
  const take = async () => {
    if (!report?.edit) return;
    const problem = await stage([report.edit]);
    if (problem) setRefusal(problemText(problem));
    else onClose();
  };
  const lines = report?.lines.filter((l) => only === 'all' || l.verdict === 'refused') ?? [];
  const fitting = (report?.counts.new ?? 0) + (report?.counts.altered ?? 0);
  return (
    <aside aria-label="From a file" className={clsx('flex flex-col', props.className)}>
      <div className="flex items-center gap-3">
        <h2 className="font-display text-[18px] font-semibold">From a file</h2>
        <button className="button ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {kinds.length > 1 && (
          <Select
            label="What the file holds"
            value={what}
            options={kinds.map((k) => ({ value: k.what, label: k.name }))}
            onChange={(v) => {
              setWhat(v as W);
              void look(file, v as W);
            }}
          />
        )}
        <input
          type="file"
          className="file:border-line2 file:bg-sheet file:text-ink file:mr-2 file:h-8 file:rounded-[3px] file:border file:border-solid file:px-3"
          aria-label="The file"
          accept=".csv,text/csv"
          onChange={(e) => void look(e.target.files?.[0])}
        />
      </div>
      <p className="text-ink2 mt-1 text-[13px]">
        Comma-separated values; the first line names the columns: {kinds.find((k) => k.what === what)?.columns}. Other
        names can be matched once the file is read.
      </p>
      <Alert className="mt-2">{refusal}</Alert>
      {report && (
        <>
          <fieldset className="mt-2">
            <legend className="text-ink2 text-[13px]">Which column of the file holds what</legend>
            <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-1">
              {report.columns.map(({ column, heading }) => (
                <span key={column} className="flex items-center gap-2">
                  <span className="w-16 shrink-0">{column}</span>
                  <Select
                    label={`Column for ${column}`}
                    className="min-w-0 flex-1"
                    value={heading ?? ''}
                    options={[
                      { value: '', label: 'not in the file' },
                      ...report.headings.map((h) => ({ value: h, label: h })),
                    ]}
                    onChange={(chosen) =>
                      void look(file, what, {
                        ...Object.fromEntries(report.columns.map((c) => [c.column, c.heading ?? ''])),
                        [column]: chosen,
                      })
                    }
                  />
                </span>
              ))}
            </div>
          </fieldset>
          <p role="status" className="mt-2">
            <strong className="font-semibold">{count(report.lines.length, 'line')}</strong>: {report.counts.new} new,{' '}
            {report.counts.altered} altered, {report.counts.same} as they are already, {report.counts.refused} refused.{' '}
            {report.counts.refused > 0 && (
              <button className="quiet" onClick={() => setOnly(only === 'all' ? 'refused' : 'all')}>
                {only === 'all' ? 'Only those refused' : 'All lines'}
              </button>
            )}
          </p>
          <VirtualRows
            label="Lines"
            items={lines}
            maxHeight="min(420px, calc(100dvh - 480px))"
            row={(line) => (
              <>
                <span className="text-ink2 w-10 shrink-0 text-right">{line.line}</span>
                <span
                  className={line.verdict === 'refused' ? 'text-shut w-16 shrink-0 font-semibold' : 'w-16 shrink-0'}
                >
                  {line.verdict}
                </span>
                <span className="truncate" title={line.told}>
                  {line.told}
                </span>
              </>
            )}
          />
          <button className="button button-strong mt-3 self-start" disabled={fitting === 0} onClick={() => void take()}>
            Add {count(fitting, 'line')} to draft
          </button>
        </>
      )}
    </aside>
  );
}
