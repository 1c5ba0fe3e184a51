import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { unwrap, api, type Assignment, type Hit, type Setting } from '../api/client';
import { useCatalogue, usePolicy } from '../parts/queries';
import { useAfterDraft, useDraft } from '../draft/draft';
import { EntityPicker } from '../parts/EntityPicker';
import { EVERYONE, type Who } from '../question/question';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../text/words';
import { PendingPropagation } from './PendingPropagation';
import { IncompleteFamilies } from './IncompleteFamilies';
import { useFocusWhenLost } from '../parts/useFocusWhenLost';
import { PasteAccounts } from '../parts/PasteAccounts';
import { PolicyAudience } from './PolicyAudience';
import { EditableText } from '../parts/EditableText';
import { History } from '../parts/History';
import { AssignmentEditor } from './AssignmentEditor';
import { PolicyRemoval } from './PolicyRemoval';
import { PolicyUpkeep } from './PolicyUpkeep';
import { RestorePolicy } from './RestorePolicy';
import { StatementLine } from './StatementLine';
import { addition, isOrdered, lineKey, refusals, formOf, type Line, type PolicyForm } from './policyDiff';
import { usePolicyForm } from './usePolicyForm';
import { Alert } from '../parts/Alert';

interface Props {
  id: string;
  zone: string;
  onClose: () => void;
  onOpen: (policy: string | undefined) => void;
  /** Puts another policy beside this one, to be compared line by line. */
  onCompare: () => void;
}

/** A policy opened as a sheet: what it says, whom it is for, whom it reaches and what that comes to. Edits go into the draft. */
export function PolicySheet(props: Props) {
  const policy = usePolicy(props.id);
  if (policy.isError && !policy.data)
    return (
      <div className="flex-1">
        <ErrorNotice error={policy.error} onRetry={() => void policy.refetch()} />
        <button className="button mx-8" onClick={props.onClose}>
          Close
        </button>
      </div>
    );
  if (!policy.data) return <p className="text-ink2 flex-1 p-6">Looking…</p>;
  return (
    <Editor
      {...props}
      current={!policy.isPlaceholderData}
      stands={formOf(policy.data.policy)}
      names={policy.data.names}
      reaches={policy.data.reaches}
    />
  );
}

function Editor(
  props: Props & { stands: PolicyForm; current: boolean; names: Record<string, string>; reaches: number },
) {
  const { stage, add, draft } = useDraft();
  const { sheet, change, problem } = usePolicyForm(props.stands, props.current, stage);
  const [names, setNames] = useState<Record<string, string>>({});
  const [leaving, setLeaving] = useState(false);
  const focused = useFocusWhenLost<HTMLElement>();
  const catalogue = useCatalogue();
  const settings = useMemo(() => new Map(catalogue.data?.settings.map((s) => [s.key, s])), [catalogue.data]);
  const told = useMemo(() => refusals(problem?.problem, problem?.planned ?? [], sheet), [problem, sheet]);
  const does = useDoes(props.id);
  const addSetting = (hit: Hit) => {
    const setting = settings.get(hit.id);
    if (setting) change({ ...sheet, lines: [...sheet.lines, newLine(setting, sheet.lines)] });
  };
  const copy = async (assignments: Assignment[]) => {
    const fresh = addition({ ...sheet, id: undefined, name: `${sheet.name}, copy`, assignments }, props.id);
    const added = await add(fresh.map((p) => p.edit));
    if (typeof added === 'string') props.onOpen(added);
  };
  const hold = async (mailing: Hit) => {
    const id = `${mailing.id}-access`;
    const name = `${mailing.title}, for access`;
    const group = { id, name, purpose: 'access', members: [`group:${mailing.id}`] };
    const include = `group:${id}`;
    setNames((n) => ({ ...n, [include]: name }));
    await stage([
      {
        kind: 'batch',
        edits: [
          { kind: 'add-group', group },
          { kind: 'put-assignment', policy: props.id, assignment: { include } },
        ],
      },
    ]);
  };
  return (
    <section
      ref={focused}
      tabIndex={-1}
      aria-label={`Policy ${sheet.name}`}
      className="relative flex min-h-0 min-w-0 flex-1 flex-col outline-none"
    >
      <div className="border-line flex flex-wrap items-center gap-2 border-b px-6 py-2.5">
        <span className="text-ink2 text-[13px]">
          {sheet.paused ? 'Paused, reaches nobody' : `Reaches ${count(props.reaches, 'account')}`}
          {draft?.policies.includes(props.id) && <span className="text-draft font-semibold"> · in the draft</span>}
        </span>
        <span className="ml-auto flex gap-2">
          <button
            className="button"
            title="A copy stands directly below its original"
            onClick={() => void copy(sheet.assignments)}
          >
            Copy
          </button>
          {sheet.assignments.length > 0 && (
            <button className="button" title="A copy that applies to nobody yet" onClick={() => void copy([])}>
              Copy the settings only
            </button>
          )}
          <button className="button" onClick={props.onCompare}>
            Compare
          </button>
          <button className="button" onClick={() => change({ ...sheet, paused: !sheet.paused })}>
            {sheet.paused ? 'Resume' : 'Pause'}
          </button>
          <button className="button" onClick={() => setLeaving(true)} disabled={leaving}>
            Delete
          </button>
          <button className="button" onClick={props.onClose}>
            Close
          </button>
        </span>
      </div>
      {leaving && (
        <PolicyRemoval
          policy={props.id}
          name={sheet.name}
          onKeep={() => setLeaving(false)}
          onDelete={() =>
            void stage([{ kind: 'remove-policy', policy: props.id }]).then((p) => !p && props.onOpen(undefined))
          }
        />
      )}
      <div className="min-h-0 flex-1 overflow-y-auto px-6 pt-4 pb-8 [&>*]:max-w-4xl">
        <label className="sr-only" htmlFor="policy-name">
          Name
        </label>
        <EditableText
          id="policy-name"
          className="font-display text-[20px] font-semibold"
          placeholder="Name it for what it does"
          value={sheet.name}
          invalid={told.has('name')}
          onCommit={(name) => change({ ...sheet, name })}
        />
        {told.has('name') && <Alert>The name {told.get('name')}.</Alert>}
        <EditableText
          label="Description"
          className="text-ink2"
          placeholder="Why it is there, in a sentence"
          value={sheet.description}
          onCommit={(description) => change({ ...sheet, description })}
        />
        <PolicyUpkeep id={props.id} sheet={sheet} zone={props.zone} told={told} onChange={change} />
        {told.has('') && <Alert className="mt-2">{told.get('')}</Alert>}

        <PendingPropagation policy={props.id} />
        <h2 className="font-display mt-5 text-[16px] font-semibold">Settings</h2>
        {sheet.lines.length === 0 && (
          <p className="text-ink2">Nothing is set so far. Find a setting below by any word for it.</p>
        )}
        <ul className="border-line mt-1 border-t empty:border-0" aria-label="Statements">
          {sheet.lines.map((line, i) => (
            <StatementLine
              key={lineKey(line)}
              line={line}
              setting={settings.get(line.setting)}
              app={catalogue.data?.apps.find((a) => a.id === settings.get(line.setting)?.app)?.name}
              refusal={told.get(lineKey(line))}
              does={does.data?.does.find((d) => d.setting === line.setting && d.cap === (line.says === 'cap'))}
              reached={does.data?.reached}
              audience={audienceOf(sheet.assignments)}
              inWorkspaces={sheet.assignments.some((a) => a.include?.startsWith('workspace:') ?? false)}
              both={sheet.lines.some((l, j) => j !== i && l.setting === line.setting)}
              onChange={(next) => change({ ...sheet, lines: sheet.lines.map((l, j) => (j === i ? next : l)) })}
              onRemove={() => change({ ...sheet, lines: sheet.lines.filter((_, j) => j !== i) })}
            />
          ))}
        </ul>
        <IncompleteFamilies
          families={catalogue.data?.families ?? []}
          lines={sheet.lines}
          settings={settings}
          onChange={(lines) => change({ ...sheet, lines })}
        />
        <div className="mt-2 max-w-md!">
          <EntityPicker
            label="Add a setting"
            placeholder="Add a setting: any word for it"
            kinds="setting"
            refuse={(hit) =>
              sheet.lines.filter((l) => l.setting === hit.id).length >= (isOrdered(settings.get(hit.id)) ? 2 : 1)
                ? 'The policy sets it already'
                : undefined
            }
            onPick={addSetting}
          />
        </div>

        <AssignmentEditor
          assignments={sheet.assignments}
          names={{ ...props.names, ...names }}
          zone={props.zone}
          told={told}
          onName={(target, name) => setNames((n) => ({ ...n, [target]: name }))}
          onChange={(assignments) => change({ ...sheet, assignments })}
          onHold={(mailing) => void hold(mailing)}
        />
        <PasteAccounts policy={props.id} name={sheet.name} />
        <History about={{ policy: props.id }} zone={props.zone} heading="h2" />
        <RestorePolicy policy={{ id: props.id, name: sheet.name }} zone={props.zone} />
        <PolicyAudience policy={props.id} />
      </div>
    </section>
  );
}

/** Whom a policy is for, where that is one unit, group or person; else everyone. */
function audienceOf(assignments: Assignment[]): Who {
  const included = assignments.flatMap((a) => a.include ?? []);
  const [kind, id] = included.length === 1 ? (included[0] ?? '').split(/:(.*)/s) : [];
  return (kind === 'unit' || kind === 'group' || kind === 'account') && id ? { kind, id } : EVERYONE;
}

/** What the statements of a policy come to, after the draft. */
function useDoes(policy: string) {
  const after = useAfterDraft();
  return useQuery({
    queryKey: ['does', policy, after.key],
    queryFn: () =>
      unwrap(api.GET('/api/v1/policies/{id}/does', { params: { path: { id: policy }, query: after.query } })),
    placeholderData: (before) => before,
  });
}

function newLine(setting: Setting, lines: Line[]): Line {
  const isSet = lines.some((l) => l.setting === setting.key && l.says !== 'cap');
  const value = startValue(setting);
  return { setting: setting.key, says: isSet ? 'cap' : 'set', value };
}

/** What a new statement says at first: the other position of a switch, else the built-in value. */
function startValue(setting: Setting): unknown {
  const builtIn = setting.default;
  if (typeof builtIn === 'boolean') return !builtIn;
  if (builtIn !== null && typeof builtIn === 'object' && !Array.isArray(builtIn))
    return setting.type === 'switch'
      ? true
      : setting.type === 'choice'
        ? setting.options?.[0]
        : setting.type === 'number'
          ? setting.min
          : setting.type === 'list'
            ? []
            : '';
  return builtIn;
}
