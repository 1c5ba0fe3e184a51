import { useState } from 'react';
import { Refused, answer, api, type Imported } from '../api/client';
import { useAfter, useDrafting } from '../draft/draft';
import { VirtualRows } from '../parts/VirtualRows';
import { count } from '../text/words';
import type { ListName } from './columns';

const COLUMNS = {
  people: 'id, address, name, kind, unit, title, started, active',
  units: 'id, name, parent',
  members: 'group, member',
};

/** People, units or members of groups from comma-separated values: every line is reported, then all of it is one edit. */
export function ImportFile({ list, onClose }: { list: ListName; onClose: () => void }) {
  const { stage } = useDrafting();
  const after = useAfter();
  const [what, setWhat] = useState<keyof typeof COLUMNS>(
    list === 'units' ? 'units' : list === 'groups' ? 'members' : 'people',
  );
  const [file, setFile] = useState<File>();
  const [report, setReport] = useState<Imported>();
  const [refusal, setRefusal] = useState('');
  const [only, setOnly] = useState<'all' | 'refused'>('all');
  const look = async (chosen: File | undefined, as = what) => {
    setFile(chosen);
    setReport(undefined);
    setRefusal('');
    if (!chosen) return;
    const text = await chosen.text();
    try {
      setReport(
        await answer(
          api.POST('/api/v1/imports/{what}', {
            params: { path: { what: as }, query: { name: chosen.name, ...after.query } },
            body: text,
            bodySerializer: (body) => body,
            headers: { 'Content-Type': 'text/csv' },
          }),
        ),
      );
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setRefusal(error.problem.detail);
    }
  };
  const take = async () => {
    if (!report?.edit) return;
    const problem = await stage([report.edit]);
    if (problem) setRefusal(problem.detail);
    else onClose();
  };
  const lines = report?.lines.filter((l) => only === 'all' || l.verdict === 'refused') ?? [];
  const fitting = (report?.counts.new ?? 0) + (report?.counts.altered ?? 0);
  return (
    <aside aria-label="From a file" className="border-line flex w-[520px] shrink-0 flex-col border-l px-5 py-3">
      <div className="flex items-center gap-3">
        <h2 className="font-display text-[18px] font-semibold">From a file</h2>
        <button className="button ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <select
          className="field"
          aria-label="What the file holds"
          value={what}
          onChange={(e) => {
            setWhat(e.target.value as 'people');
            void look(file, e.target.value as 'people');
          }}
        >
          <option value="people">accounts</option>
          <option value="units">units</option>
          <option value="members">members of groups</option>
        </select>
        <input
          type="file"
          className="file:border-line2 file:bg-sheet file:text-ink file:mr-2 file:h-8 file:rounded-[3px] file:border file:border-solid file:px-3"
          aria-label="The file"
          accept=".csv,text/csv"
          onChange={(e) => void look(e.target.files?.[0])}
        />
      </div>
      <p className="text-ink2 mt-1 text-[13px]">
        Comma-separated values; the first line names the columns: {COLUMNS[what]}.
      </p>
      {refusal && (
        <p role="alert" className="text-shut mt-2">
          {refusal}
        </p>
      )}
      {report && (
        <>
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
            maxHeight="calc(100dvh - 340px)"
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
            Put {count(fitting, 'line')} into the draft
          </button>
        </>
      )}
    </aside>
  );
}
