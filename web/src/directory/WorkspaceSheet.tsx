import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { unwrap, unwrapAs, api, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { EntityPicker } from '../parts/EntityPicker';
import { VirtualRows } from '../parts/VirtualRows';
import { account, EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { capital, count, formatNumber } from '../text/words';
import type { ListName } from './columns';
import { memberCount, OwnersEditor, MemberList, EntityName, Usages } from './detailParts';
import { History } from '../parts/History';
import { Select } from '../parts/Select';
import { useStaging } from '../parts/useStaging';

type Setting = Schemas['WorkspaceSetting'];
type Fate = Schemas['WorkspaceEffect'];

/** One workspace: its hosting, who looks after it and who works there, and what it has its own word on. */
export function WorkspaceSheet(props: {
  entry: Schemas['WorkspaceEntry'];
  zone: string;
  onOpen: (list: ListName, id: string) => void;
}) {
  const { entry, zone, onOpen } = props;
  const [send, refusal] = useStaging();
  const [question] = useQuestion();
  const amend = (members: Record<string, unknown>) => send([{ kind: 'amend-workspace', workspace: entry.id, members }]);
  const written = [...entry.groups.map((g) => `group:${g.id}`), ...entry.workers.filter((m) => m.listed).map(by)];
  return (
    <>
      <EntityName value={entry.name} onCommit={(name) => void amend({ name })} />
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {entry.hosting ? (
          <SharedHosting entry={entry} hosting={entry.hosting} onOpen={onOpen} onLeave={amend} />
        ) : (
          <>
            <span className="flex items-center gap-2">
              Hosting of size
              <Select
                label="Size"
                value={entry.size}
                options={entry.sizes.map((size) => ({ value: size, label: size }))}
                onChange={(v) => void amend({ size: v })}
              />
            </span>
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={entry.trial} onChange={(e) => void amend({ trial: e.target.checked })} />
              On trial
            </label>
          </>
        )}
        <Link
          className="quiet"
          to={`/ladder${writeQuestion({ ...question, where: { id: entry.id } })}`}
          title="Sets Where on the question line"
        >
          Ask as if working here
        </Link>
      </p>
      <div className="mt-1">
        <EntityPicker
          label="Move it to a shared hosting"
          kinds="hosting"
          refuse={(hit) => (hit.id === entry.hosting?.id ? 'It runs there already' : undefined)}
          onPick={(hit) => void amend({ hosting: hit.id })}
        />
      </div>
      {refusal}
      <OwnWord id={entry.id} />
      <h2 className="font-display mt-5 text-[16px] font-semibold">Stewards</h2>
      <OwnersEditor
        all={entry.stewards}
        label="Add a steward"
        gone={(name) => `${name} no longer looks after it`}
        onChange={(stewards) => void amend({ stewards })}
      />
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        Members <span className="text-ink2 font-sans text-[14px] font-normal">{memberCount(entry)}</span>
      </h2>
      {entry.accounts + entry.inactive === 0 && (
        <p className="text-ink2">Nobody works here yet. Members say whom a change here concerns.</p>
      )}
      <MemberList
        groups={entry.groups}
        accounts={entry.workers}
        onOpen={(group) => onOpen('groups', group)}
        onRemove={(who) => void amend({ members: written.filter((m) => m !== who) })}
      />
      <div className="mt-1">
        <EntityPicker
          label="Add a member"
          placeholder="Add a member: a person, a room, a group"
          kinds="account,group"
          refuse={(hit) => (written.includes(`${hit.kind}:${hit.id}`) ? 'A member already' : undefined)}
          onPick={(hit) => void amend({ members: [...written, `${hit.kind}:${hit.id}`] })}
        />
      </div>
      <Usages entry={entry} />
      {entry.usedBy.length === 0 && (
        <button className="button mt-4" onClick={() => void send([{ kind: 'remove-workspace', workspace: entry.id }])}>
          Delete it
        </button>
      )}
      <History about={{ workspace: entry.id }} zone={zone} heading="h2" />
    </>
  );
}

/** What a workspace shares with others: where it leads, and a way to hosting of its own. */
function SharedHosting(props: {
  entry: Schemas['WorkspaceEntry'];
  hosting: { id: string; name: string };
  onOpen: (list: ListName, id: string) => void;
  onLeave: (members: Record<string, unknown>) => Promise<boolean>;
}) {
  const { entry, hosting } = props;
  return (
    <span className="flex flex-wrap items-baseline gap-x-2">
      Runs on
      <button className="quiet font-semibold" onClick={() => props.onOpen('hostings', hosting.id)}>
        {hosting.name}
      </button>
      <span className="text-ink2">
        size {entry.size}
        {entry.trial && ', on trial'}
        {!entry.running && <span className="text-shut">, paused</span>}
      </span>
      <button
        className="quiet text-[13px]"
        onClick={() => void props.onLeave({ size: entry.size, trial: entry.trial })}
      >
        Give it hosting of its own
      </button>
    </span>
  );
}

const SHOWN = 1000;

const by = (m: { id: string }) => `account:${m.id}`;

/** Setting by setting: what is said for this workspace, and what becomes of it for those who work there. */
function OwnWord({ id }: { id: string }) {
  const after = useAfterDraft();
  const [send, refusal] = useStaging();
  const [all, setAll] = useState(false);
  const found = useQuery({
    queryKey: ['workspace settings', id, after.key],
    queryFn: () =>
      unwrap(api.GET('/api/v1/workspaces/{id}/settings', { params: { path: { id }, query: after.query } })),
    placeholderData: (before) => before,
  });
  if (!found.data) return <p className="text-ink2 mt-5">{found.isError ? found.error.message : 'Looking…'}</p>;
  const open = found.data.settings.filter((s) => s.open);
  const spoken = open.filter((s) => s.words.length > 0);
  const silent = open.filter((s) => s.words.length === 0 && s.fates.every((f) => f.fate !== 'unhosted'));
  const kept = found.data.settings.filter((s) => s.fates.some((f) => f.fate === 'unhosted'));
  const row = (setting: Setting) => (
    <SettingRow
      key={setting.key}
      setting={setting}
      workspace={id}
      onOpen={(value) =>
        void send([{ kind: 'amend-setting', setting: setting.key, members: { openToWorkspaces: value } }])
      }
    />
  );
  return (
    <>
      <h2 className="font-display mt-5 text-[16px] font-semibold">Settings for this workspace</h2>
      {refusal}
      {spoken.length === 0 && <p className="text-ink2">No policy says anything for this workspace now.</p>}
      <ul aria-label="Settings on which something is said for this workspace">{spoken.map(row)}</ul>
      {kept.length > 0 && (
        <>
          <h2 className="font-display mt-5 text-[16px] font-semibold">Not available on this hosting</h2>
          <ul aria-label="Settings that the hosting keeps away">{kept.map(row)}</ul>
        </>
      )}
      <p className="mt-3">
        {count(silent.length, 'more setting')} {silent.length === 1 ? 'is' : 'are'} open to workspaces.{' '}
        {silent.length > 0 && (
          <button className="quiet" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'Hide them' : 'Show them'}
          </button>
        )}
      </p>
      {all && <ul aria-label="Settings open to workspaces on which nothing is said here">{silent.map(row)}</ul>}
      <div className="mt-2">
        <EntityPicker
          label="Open a setting to all workspaces"
          kinds="setting"
          refuse={(hit) => (open.some((s) => s.key === hit.id) ? 'Open to workspaces already' : undefined)}
          onPick={(hit) => void send([{ kind: 'amend-setting', setting: hit.id, members: { openToWorkspaces: true } }])}
        />
      </div>
    </>
  );
}

function SettingRow(props: { setting: Setting; workspace: string; onOpen: (open: boolean) => void }) {
  const { setting } = props;
  const [question] = useQuestion();
  return (
    <li className="border-line border-b py-1.5">
      <div className="flex items-baseline gap-2">
        <Link
          className="min-w-0 flex-1 truncate font-semibold hover:underline"
          to={`/ladder${writeQuestion({ ...question, who: EVERYONE, what: { id: setting.key }, where: { id: props.workspace } })}`}
          title={setting.title}
        >
          {setting.title}
        </Link>
        {setting.open && (
          <button
            className="quiet text-[13px]"
            aria-label={`Close ${setting.title} to all workspaces`}
            title="No workspace has its own word on it any more"
            onClick={() => props.onOpen(false)}
          >
            Close
          </button>
        )}
        {setting.usual && <span className="w-14 shrink-0 truncate text-right">{setting.usual}</span>}
      </div>
      <ul className="text-ink2 text-[13px]">
        {setting.words.map((w) => (
          <li key={`${w.policy} ${String(w.cap)}`}>
            <Link className="quiet" to={`/policies/${encodeURIComponent(w.policy)}${writeQuestion(question)}`}>
              {w.name}
            </Link>{' '}
            {w.cap ? `allows ${w.value} at the most` : `says ${w.value}`}
            {w.lock && ', locked'}
          </li>
        ))}
        {setting.words.length > 0 && setting.fates.length === 0 && (
          <li>It makes no difference to those who work here: they have the same elsewhere.</li>
        )}
        {setting.fates.map((fate) => (
          <Concerned key={fate.id} workspace={props.workspace} setting={setting} fate={fate} />
        ))}
      </ul>
    </li>
  );
}

const lower = (text: string) => text.slice(0, 1).toLowerCase() + text.slice(1);

/** What becomes of a setting for some, up to their number. */
export function sentence(setting: Pick<Setting, 'need'>, fate: Fate): string {
  const source = fate.by ?? 'the catalogue';
  switch (fate.fate) {
    case 'overridden':
      return `${capital(fate.value)} here, ${fate.elsewhere ?? ''} elsewhere, for`;
    case 'held':
      return `A lock of ${source} forbids it: ${fate.value} for`;
    case 'personal':
      return `What ${source} says of them in person counts more: ${fate.value} for`;
    case 'unhosted':
      return `${fate.elsewhere ?? ''} is decided, ${fate.value} in effect: it needs ${lower(setting.need ?? 'other hosting')}, for`;
  }
}

/** What becomes of a setting for some members, and on demand who they are. */
function Concerned(props: { workspace: string; setting: Setting; fate: Fate }) {
  const { workspace, setting, fate } = props;
  const after = useAfterDraft();
  const [question] = useQuestion();
  const [open, setOpen] = useState(false);
  const query = { ...after.query, setting: setting.key, id: fate.id };
  const found = useQuery({
    queryKey: ['workspace people', workspace, query, after.key],
    queryFn: () =>
      unwrapAs<Schemas['PeopleList']>(
        api.GET('/api/v1/workspaces/{id}/people', {
          params: { path: { id: workspace }, query: { ...query, limit: SHOWN } },
        }),
      ),
    enabled: open,
  });
  const csv = new URLSearchParams({ setting: setting.key, id: fate.id, format: 'csv' });
  if (after.query.draft !== undefined) csv.set('draft', String(after.query.draft));
  return (
    <li>
      <span className={fate.fate === 'overridden' ? undefined : 'text-shut'}>{sentence(setting, fate)}</span>{' '}
      <button className="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
        {count(fate.accounts, 'member')}
      </button>
      {open && (
        <>
          <VirtualRows
            label="Members concerned"
            items={found.data?.people ?? []}
            maxHeight="180px"
            row={(person) => (
              <>
                <Link
                  className="w-36 shrink-0 truncate font-semibold hover:underline"
                  to={`/ladder${writeQuestion({ ...question, who: account(person.account), what: { id: setting.key }, where: { id: workspace } })}`}
                >
                  {person.displayName}
                </Link>
                <span className="truncate" title={person.unit}>
                  {person.unit}
                </span>
              </>
            )}
          />
          <a className="quiet" href={`/api/v1/workspaces/${encodeURIComponent(workspace)}/people?${csv.toString()}`}>
            {fate.accounts > SHOWN ? `All ${formatNumber(fate.accounts)} as CSV` : 'As CSV'}
          </a>
        </>
      )}
    </li>
  );
}
