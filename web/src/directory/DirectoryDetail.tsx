import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import {
  unwrap,
  api,
  type AccountEntry,
  type Assignment,
  type DirectoryEntry,
  type Edit,
  type GroupEntry,
  type PolicyFor,
  type UnitEntry,
} from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { FeedbackButtons, useFeedback } from '../parts/FeedbackButtons';
import { EditableText } from '../parts/EditableText';
import { EntityPicker } from '../parts/EntityPicker';
import { History } from '../parts/History';
import { ErrorNotice } from '../parts/ErrorNotice';
import { account, useQuestion, writeQuestion } from '../question/question';
import { useFocusWhenLost } from '../parts/useFocusWhenLost';
import { PasteAccounts } from '../parts/PasteAccounts';
import { ViewAs } from '../parts/SuitePage';
import { day } from '../text/dates';
import { languageName } from '../text/languages';
import { count, formatNumber } from '../text/words';
import { Admissions } from './Admissions';
import { Departure } from './Departure';
import { Devices } from './Devices';
import { GroupRule } from './GroupRule';
import { HostingSheet } from './HostingSheet';
import { WorkspaceSheet } from './WorkspaceSheet';
import type { ListName } from './columns';
import { memberCount, OwnersEditor, MemberList, EntityName, RemoveButton, Usages } from './detailParts';
import { useStaging } from '../parts/useStaging';
import { Sheet } from '../parts/Sheet';

interface Props {
  list: ListName;
  id: string;
  zone: string;
  onClose: () => void;
  onOpen: (list: ListName, id: string) => void;
}

/** One account, group, unit, workspace or hosting: what it is, what holds it, what it is used for, and what can be done with it. */
export function DirectoryDetail(props: Props) {
  const after = useAfterDraft();
  const focused = useFocusWhenLost<HTMLElement>();
  const found = useQuery({
    queryKey: ['entry', props.list, props.id, after.key],
    queryFn: () =>
      unwrap(
        api.GET('/api/v1/directory/{list}/{id}', {
          params: { path: { list: props.list, id: props.id }, query: after.query },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <Sheet label="What is open" className="w-[440px]" focus={focused} onClose={props.onClose}>
      {found.isError ? (
        <ErrorNotice error={found.error} />
      ) : found.data ? (
        <>
          {'keepers' in found.data ? (
            <HostingSheet entry={found.data} zone={props.zone} onOpen={props.onOpen} />
          ) : 'members' in found.data ? (
            <GroupSheet {...props} entry={found.data} />
          ) : 'workers' in found.data ? (
            <WorkspaceSheet entry={found.data} zone={props.zone} onOpen={props.onOpen} />
          ) : 'children' in found.data ? (
            <UnitSheet {...props} entry={found.data} />
          ) : (
            <AccountSheet {...props} entry={found.data} />
          )}
        </>
      ) : (
        <p className="text-ink2">Looking…</p>
      )}
    </Sheet>
  );
}

type EntryProps<E extends DirectoryEntry> = Props & { entry: E };

function AccountSheet({ id, entry, zone, onOpen }: EntryProps<AccountEntry>) {
  const [send, refusal] = useStaging();
  const [question] = useQuestion();
  const amend = (members: Record<string, unknown>) => send([{ kind: 'amend-account', account: id, members }]);
  return (
    <>
      <EntityName value={entry.name} onCommit={(displayName) => void amend({ displayName })} />
      <p className="text-ink2">
        {[
          entry.address,
          entry.title,
          entry.started && `started ${day(entry.started)}`,
          entry.language && `reads ${languageName(entry.language)}`,
        ]
          .filter(Boolean)
          .join(' · ')}
      </p>
      {!entry.active && <p className="text-shut font-semibold">Deactivated: no settings, no seat.</p>}
      {refusal}
      <div className="mt-2 flex flex-wrap items-baseline gap-2">
        {entry.active && (
          <Link className="button" to={`/ladder${writeQuestion({ ...question, who: account(id) })}`}>
            See the settings
          </Link>
        )}
        {entry.active && <ViewAs id={id} name={entry.name} />}
        <button className="button" onClick={() => void amend({ active: !entry.active })}>
          {!entry.active ? 'Activate' : 'Deactivate'}
        </button>
      </div>
      {!entry.active && <Departure id={id} send={send} />}
      <h2 className="font-display mt-5 text-[16px] font-semibold">Unit</h2>
      <Path entry={entry} onOpen={onOpen} />
      <div className="mt-1">
        <EntityPicker label="Move to another unit" kinds="unit" onPick={(unit) => void amend({ unit: unit.id })} />
      </div>
      <h2 className="font-display mt-5 text-[16px] font-semibold">Groups</h2>
      {entry.groups.length === 0 && <p className="text-ink2">In no group.</p>}
      <ul>
        {entry.groups.map((g) => (
          <li key={g.id} className="border-line flex items-center gap-2 border-b py-1">
            <button className="quiet" onClick={() => onOpen('groups', g.id)}>
              {g.name}
            </button>
            <RemoveButton
              label={`Take ${entry.name} out of ${g.name}`}
              onPress={() => void send([{ kind: 'remove-members', group: g.id, who: [`account:${id}`] }])}
            />
          </li>
        ))}
      </ul>
      <div className="mt-1">
        <EntityPicker
          label="Add to a group"
          kinds="group"
          refuse={(group) => (entry.groups.some((g) => g.id === group.id) ? 'A member already' : undefined)}
          onPick={(group) => void send([{ kind: 'put-members', group: group.id, who: [`account:${id}`] }])}
        />
      </div>
      <Devices devices={entry.devices} zone={zone} />
      {entry.active && <Admissions id={id} name={entry.name} />}
      <InPolicies id={id} entry={entry} send={send} />
      <div className="mt-2">
        <EntityPicker
          label="Add to a policy"
          placeholder="Add to a policy, by name"
          kinds="policy"
          refuse={(policy) =>
            entry.policies.some((p) => p.id === policy.id && p.include) ? 'Named there already' : undefined
          }
          onPick={(policy) =>
            void send([{ kind: 'put-assignment', policy: policy.id, assignment: { include: `account:${id}` } }])
          }
        />
      </div>
      <Words id={id} zone={zone} send={send} />
      <History about={{ account: id }} zone={zone} heading="h2" />
    </>
  );
}

/** What the person found of previews; nothing where nothing was said. */
function Words(props: { id: string; zone: string; send: (edits: Edit[]) => Promise<boolean> }) {
  const lines = useFeedback({ account: props.id }).found.data?.feedback ?? [];
  if (lines.length === 0) return null;
  return (
    <section aria-label="What they found of previews">
      <h2 className="font-display mt-5 text-[16px] font-semibold">What they found of previews</h2>
      <ul>
        {lines.map((line) => (
          <FeedbackButtons key={line.id} line={line} zone={props.zone} byPerson onEdit={props.send} />
        ))}
      </ul>
    </section>
  );
}

const STANDINGS: Record<PolicyFor['standing'], string> = {
  reaches: 'reaches',
  excepted: 'left out',
  early: 'not yet',
  ended: 'ended',
  paused: 'paused',
};

/** What is this one in? Every policy that reaches the account, with the way in, and those that leave it out, with the reason. */
function InPolicies(props: { id: string; entry: AccountEntry; send: (edits: Edit[]) => Promise<boolean> }) {
  const { id, entry } = props;
  const [question] = useQuestion();
  const after = useAfterDraft();
  const found = useQuery({
    queryKey: ['policies for', id, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/accounts/{id}/policies', { params: { path: { id }, query: after.query } })),
    enabled: entry.active,
    placeholderData: (before) => before,
  });
  if (!entry.active) return <p className="text-ink2 mt-5">No policy reaches a deactivated account.</p>;
  if (!found.data) return <p className="text-ink2 mt-5">{found.isError ? found.error.message : 'Looking…'}</p>;
  const reached = found.data.policies.filter((p) => p.standing === 'reaches').length;
  return (
    <>
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        Policies{' '}
        <span className="text-ink2 font-sans text-[14px] font-normal">
          {count(reached, 'one reaches', 'reach').replace(/^1 one/, 'one')} {entry.name}, the strongest first
        </span>
      </h2>
      <ul aria-label="Policies that reach it, or leave it out">
        {found.data.policies.map((p) => (
          <li key={p.policy} className="border-line grid grid-cols-[1fr_auto] gap-x-3 border-b py-1">
            <Link
              className={p.standing === 'reaches' ? 'quiet truncate' : 'quiet text-ink2 truncate'}
              to={`/policies/${encodeURIComponent(p.policy)}${writeQuestion(question)}`}
            >
              {p.name}
            </Link>
            <span className="flex items-center gap-2 text-[13px]">
              <span className={p.standing === 'reaches' ? 'text-ink2' : 'text-shut'}>{STANDINGS[p.standing]}</span>
              {p.assignment && (
                <RemoveButton
                  label={`Take ${entry.name} out of ${p.name}`}
                  onPress={() =>
                    void props.send([
                      { kind: 'remove-assignment', policy: p.policy, assignment: p.assignment as Assignment },
                    ])
                  }
                />
              )}
            </span>
            <span className="text-ink2 col-span-2 text-[13px]">
              {p.standing === 'reaches' ? `by ${p.way}` : `${p.reason ?? 'not reached'}, else by ${p.way}`}
            </span>
          </li>
        ))}
      </ul>
      {found.data.policies.length === 0 && <p className="text-ink2">No policy names it, or anything that it is in.</p>}
    </>
  );
}

function Path({ entry, onOpen }: { entry: AccountEntry | UnitEntry; onOpen: Props['onOpen'] }) {
  return (
    <p>
      {entry.path.map((u, i) => (
        <span key={u.id}>
          {i > 0 && <span className="text-ink2"> › </span>}
          <button className="quiet" onClick={() => onOpen('units', u.id)}>
            {u.name}
          </button>
        </span>
      ))}
    </p>
  );
}

function UnitSheet({ id, entry, zone, onOpen }: EntryProps<UnitEntry>) {
  const [send, refusal] = useStaging();
  const amend = (members: Record<string, unknown>) => send([{ kind: 'amend-unit', unit: id, members }]);
  const root = entry.path.length === 1;
  return (
    <>
      <EntityName value={entry.name} onCommit={(name) => void amend({ name })} />
      <Path entry={entry} onOpen={onOpen} />
      <p className="text-ink2 mt-1">
        {count(entry.accounts, 'account')} in it or below, {formatNumber(entry.direct)} directly
        {entry.inactive > 0 && `, and ${formatNumber(entry.inactive)} deactivated`}.
      </p>
      {refusal}
      {!root && (
        <div className="mt-3">
          <EntityPicker
            label="Move below another unit"
            kinds="unit"
            onPick={(unit) => void amend({ parent: unit.id })}
          />
        </div>
      )}
      <h2 className="font-display mt-5 text-[16px] font-semibold">Units below</h2>
      {entry.children.length === 0 && <p className="text-ink2">None.</p>}
      <ul>
        {entry.children.map((c) => (
          <li key={c.id} className="border-line flex border-b py-1">
            <button className="quiet" onClick={() => onOpen('units', c.id)}>
              {c.name}
            </button>
            <span className="text-ink2 ml-auto">{formatNumber(c.accounts)}</span>
          </li>
        ))}
      </ul>
      <Usages entry={entry} />
      <History about={{ unit: id }} zone={zone} heading="h2" />
      {!root && entry.accounts === 0 && entry.inactive === 0 && entry.children.length === 0 && (
        <button className="button mt-3" onClick={() => void send([{ kind: 'remove-unit', unit: id }])}>
          Delete it
        </button>
      )}
    </>
  );
}

function GroupSheet({ id, entry, zone, onOpen }: EntryProps<GroupEntry>) {
  const [send, refusal] = useStaging();
  const amend = (members: Record<string, unknown>) => send([{ kind: 'amend-group', group: id, members }]);
  const owners = entry.owners;
  return (
    <>
      <EntityName value={entry.name} onCommit={(name) => void amend({ name })} />
      <p className="text-ink2 flex flex-wrap items-center gap-x-3">
        {entry.access ? 'For access: policies can aim at it.' : 'For mail: policies cannot aim at it.'}
        <button className="quiet" onClick={() => void amend({ purpose: entry.access ? 'mailing' : 'access' })}>
          {entry.access ? 'Make it for mail' : 'Make it for access'}
        </button>
      </p>
      <EditableText
        label="Purpose"
        className="text-ink2 mt-1"
        placeholder="What it is for, in a sentence"
        value={entry.description ?? ''}
        onCommit={(description) => void amend({ description: description || null })}
      />
      {refusal}
      <GroupRule group={id} entry={entry} />
      <h2 className="font-display mt-5 text-[16px] font-semibold">Owners</h2>
      <OwnersEditor
        all={owners}
        label="Add an owner"
        gone={(name) => `${name} no longer owns it`}
        onChange={(next) => void amend({ owners: next })}
      />
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        Members <span className="text-ink2 font-sans text-[14px] font-normal">{memberCount(entry)}</span>
      </h2>
      <MemberList
        groups={entry.groups}
        accounts={entry.members}
        onOpen={(group) => onOpen('groups', group)}
        onRemove={(who) => void send([{ kind: 'remove-members', group: id, who: [who] }])}
      />
      <div className="mt-1">
        <EntityPicker
          label="Add a member"
          placeholder="Add a member: a person, a room, a group"
          kinds="account,group"
          refuse={(hit) => (hit.kind === 'group' && hit.id === id ? 'A group cannot hold itself' : undefined)}
          onPick={(member) => void send([{ kind: 'put-members', group: id, who: [`${member.kind}:${member.id}`] }])}
        />
      </div>
      <PasteAccounts group={id} name={entry.name} />
      {entry.around.length > 0 && (
        <>
          <h2 className="font-display mt-5 text-[16px] font-semibold">In the groups</h2>
          <ul>
            {entry.around.map((g) => (
              <li key={g.id} className="border-line border-b py-1">
                <button className="quiet" onClick={() => onOpen('groups', g.id)}>
                  {g.name}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      <Usages entry={entry} />
      <History about={{ group: id }} zone={zone} heading="h2" />
      {entry.usedBy.length === 0 && (
        <button className="button mt-4" onClick={() => void send([{ kind: 'remove-group', group: id }])}>
          Delete it
        </button>
      )}
    </>
  );
}
