import { useState } from 'react';
import { RefusedError, unwrap, api, problemText, type PasteResult } from '../api/client';
import { useAfterDraft, useDraft } from '../draft/draft';
import { count } from '../text/words';
import { Select } from './Select';
import { Alert } from './Alert';

const VERDICTS: Record<PasteResult['lines'][number]['verdict'], string> = {
  fits: 'fits',
  unknown: 'unknown',
  ambiguous: 'ambiguous',
  inactive: 'deactivated',
  'wrong-kind': 'another kind',
  'already-in': 'already in',
  'not-in': 'not in',
  repeated: 'repeated',
};

/** Adds or takes out many accounts at once by pasting a list; every line is reported before anything is staged. */
export function PasteAccounts(props: { policy?: string; group?: string; plan?: string; name: string }) {
  const { stage } = useDraft();
  const after = useAfterDraft();
  const [open, setOpen] = useState(false);
  const [adds, setAdds] = useState(true);
  const [text, setText] = useState('');
  const [report, setReport] = useState<PasteResult>();
  const [problem, setProblem] = useState('');
  const look = async () => {
    setProblem('');
    try {
      const aim = props.policy
        ? { policy: props.policy }
        : props.plan
          ? { plan: props.plan }
          : { group: props.group ?? '' };
      const body = { text, adds, ...aim };
      setReport(await unwrap(api.POST('/api/v1/addresses', { params: { query: after.query }, body })));
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setProblem(error.problem.detail);
    }
  };
  const take = async () => {
    if (!report?.edit) return;
    const refused = await stage([report.edit]);
    if (refused) setProblem(problemText(refused));
    else {
      setReport(undefined);
      setText('');
      setOpen(false);
    }
  };
  if (!open)
    return (
      <button className="quiet mt-2" onClick={() => setOpen(true)}>
        {props.plan ? 'Give or take many seats by pasting a list' : 'Add or take out many by pasting a list'}
      </button>
    );
  const left = report ? report.lines.filter((l) => l.verdict !== 'fits') : [];
  return (
    <section aria-label="A pasted list" className="bg-paper border-line mt-3 border p-3">
      <div className="flex items-center gap-3">
        <h3 className="font-semibold">Many at once</h3>
        <Select
          label="What to do with them"
          value={adds ? 'add' : 'remove'}
          options={[
            { value: 'add', label: props.plan ? `give a seat of ${props.name}` : `add to ${props.name}` },
            { value: 'remove', label: props.plan ? `take the seat of ${props.name}` : `take out of ${props.name}` },
          ]}
          onChange={(v) => {
            setAdds(v === 'add');
            setReport(undefined);
          }}
        />
        <button className="button ml-auto" onClick={() => setOpen(false)}>
          Close
        </button>
      </div>
      <textarea
        className="field mt-2 h-auto w-full py-1"
        rows={5}
        aria-label="Addresses, one a line"
        placeholder={'Addresses, ids or full names, one a line\nMirela Osk <mirela.osk@…>'}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setReport(undefined);
        }}
      />
      <Alert>{problem}</Alert>
      {report && (
        <>
          <p className="mt-1" role="status">
            <strong className="font-semibold">
              {count(report.fitting, 'line')} {report.fitting === 1 ? 'fits' : 'fit'}
            </strong>
            {left.length > 0 && `, ${count(left.length, 'line')} cannot be taken:`}
          </p>
          {left.length > 0 && (
            <ul
              className="border-line mt-1 max-h-60 overflow-y-auto border-y"
              aria-label="Lines that cannot be taken"
              tabIndex={0}
            >
              {left.map((l) => (
                <li key={l.line} className="border-line flex gap-3 border-b py-0.5 last:border-0">
                  <span className="text-ink2 w-8 shrink-0 text-right">{l.line}</span>
                  <span className="w-52 shrink-0 truncate" title={l.text}>
                    {l.text}
                  </span>
                  <strong className="w-24 shrink-0 font-semibold">{VERDICTS[l.verdict]}</strong>
                  <span className="text-ink2">{l.why}</span>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
      <div className="mt-2 flex gap-2">
        {report ? (
          <button className="button button-strong" disabled={report.fitting === 0} onClick={() => void take()}>
            {props.plan ? (adds ? 'Give seats to' : 'Take the seats of') : adds ? 'Add' : 'Take out'}{' '}
            {count(report.fitting, 'account')}
          </button>
        ) : (
          <button className="button" disabled={text.trim() === ''} onClick={() => void look()}>
            Look through the list
          </button>
        )}
      </div>
    </section>
  );
}
