import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, unwrap, type GroupEntry } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { useSettled } from '../parts/useSettled';
import { useStaging } from '../parts/useStaging';
import { account, useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';

const REST_MS = 250;

/** The rule by which a group holds accounts beside its members: shown, tried while it is typed, and changed. */
export function GroupRule(props: { group: string; entry: GroupEntry }) {
  const { group, entry } = props;
  const [typed, setTyped] = useState<string>();
  const [send, refusal] = useStaging();
  const commit = async (rule: string | null) => {
    if (await send([{ kind: 'amend-group', group, members: { rule } }])) setTyped(undefined);
  };
  return (
    <section aria-label="Members by rule">
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        By rule{' '}
        {entry.rule && (
          <span className="text-ink2 font-sans text-[14px] font-normal">
            {count(entry.byRule, 'account fits', 'accounts fit')}
          </span>
        )}
      </h2>
      {typed === undefined ? (
        <>
          {entry.rule ? (
            <p className="bg-paper my-1 rounded p-2 font-mono text-[13px] break-words">{entry.rule}</p>
          ) : (
            <p className="text-ink2">Nobody: only those listed below are members.</p>
          )}
          <span className="flex gap-2">
            <button className="button" onClick={() => setTyped(entry.rule ?? '')}>
              {entry.rule ? 'Edit the rule' : 'Add a rule'}
            </button>
            {entry.rule && (
              <button className="button" onClick={() => void commit(null)}>
                Remove the rule
              </button>
            )}
          </span>
        </>
      ) : (
        <Editor
          group={group}
          typed={typed}
          onType={setTyped}
          onAdd={() => void commit(typed.trim())}
          onCancel={() => setTyped(undefined)}
        />
      )}
      {refusal}
    </section>
  );
}

function Editor(props: {
  group: string;
  typed: string;
  onType: (rule: string) => void;
  onAdd: () => void;
  onCancel: () => void;
}) {
  const { group, typed } = props;
  const after = useAfterDraft();
  const [question] = useQuestion();
  const rule = useSettled(typed.trim(), REST_MS);
  const trial = useQuery({
    queryKey: ['group rule', rule, group, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/group-rule', { params: { query: { rule, group, ...after.query } } })),
    enabled: rule !== '',
    placeholderData: (before) => before,
  });
  const found = rule === '' ? undefined : trial.data;
  const fits = found && !found.problem && rule === typed.trim();
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (fits) props.onAdd();
      }}
    >
      <textarea
        autoFocus
        rows={3}
        spellCheck={false}
        aria-label="Rule"
        aria-invalid={Boolean(found?.problem)}
        className="field h-auto w-full py-1 font-mono text-[13px]"
        placeholder={'attributes.title eq "First mate" and unit eq "fleet"'}
        value={typed}
        onChange={(e) => props.onType(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && fits) props.onAdd();
        }}
      />
      <div aria-live="polite">
        {trial.isError && <p className="text-shut">{trial.error.message}</p>}
        {found?.problem && <Problem rule={rule} at={found.position} problem={found.problem} />}
        {fits && (
          <p>
            <strong>{count(found.accounts, 'account fits', 'accounts fit')}</strong>
            {found.inactive > 0 && `, and ${count(found.inactive, 'deactivated one', 'deactivated ones')}`}
            {found.first.length > 0 && ': '}
            {found.first.map((one, i) => (
              <span key={one.id}>
                {i > 0 && ', '}
                <Link
                  className="quiet"
                  title={one.unit}
                  to={`/ladder${writeQuestion({ ...question, who: account(one.id) })}`}
                >
                  {one.name}
                </Link>
              </span>
            ))}
            {found.accounts > found.first.length && ' and others'}.
          </p>
        )}
      </div>
      <details className="text-ink2 text-[13px]">
        <summary>What a rule can ask</summary>
        <p className="mt-1">
          <code>userName</code>, <code>displayName</code>, <code>kind</code>, <code>started</code>, <code>id</code> and{' '}
          <code>attributes.title</code> (or any other attribute) with <code>eq ne co sw ew gt ge lt le pr</code>;{' '}
          <code>active eq true</code>; <code>unit eq &quot;ID&quot;</code> for a unit and all below it;{' '}
          <code>memberOf eq &quot;ID&quot;</code> for the members of a group. Join them with <code>and</code>,{' '}
          <code>or</code>, <code>not (…)</code>. Upper and lower case are the same.
        </p>
      </details>
      <span className="flex gap-2">
        <button className="button button-strong" disabled={!fits}>
          Add to draft
        </button>
        <button type="button" className="button" onClick={props.onCancel}>
          Cancel
        </button>
      </span>
    </form>
  );
}

/** What is wrong, with the place in the rule where it is; the server counts code points. */
function Problem(props: { rule: string; at?: number; problem: string }) {
  const points = Array.from(props.rule);
  const sentence = props.problem.slice(0, 1).toUpperCase() + props.problem.slice(1);
  return (
    <div className="text-shut">
      {props.at !== undefined && (
        <p className="font-mono text-[13px] break-words" aria-hidden>
          {points.slice(0, props.at).join('')}
          <mark className="bg-shut text-paper rounded px-0.5">
            {points.slice(props.at, props.at + 12).join('') || ' '}
          </mark>
          {points.slice(props.at + 12).join('')}
        </p>
      )}
      <p>
        {sentence}
        {props.at !== undefined && ` (at character ${props.at + 1})`}.
      </p>
    </div>
  );
}
