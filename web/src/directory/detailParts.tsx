import { Link } from 'react-router';
import { type DirectoryEntry, type GroupEntry } from '../api/client';
import { EditableText } from '../parts/EditableText';
import { EntityPicker } from '../parts/EntityPicker';
import { VirtualRows } from '../parts/VirtualRows';
import { ViewAs } from '../parts/SuitePage';
import { account, useQuestion, writeQuestion } from '../question/question';
import { formatNumber } from '../text/words';
import { useStaging } from '../parts/useStaging';

/** The name of what is open, to be typed over. */
export const EntityName = (props: { value: string; onCommit: (name: string) => void }) => (
  <EditableText label="Name" className="font-display text-[19px] font-semibold" {...props} />
);

/** The press that takes one of a list out of it. */
export function RemoveButton({ label, onPress }: { label: string; onPress: () => void }) {
  return (
    <button className="text-ink2 hover:text-ink ml-auto px-1" aria-label={label} title={label} onClick={onPress}>
      <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
        <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.8" />
      </svg>
    </button>
  );
}

/** "71, and 1 deactivated". */
export function memberCount(entry: { accounts: number; inactive: number }): string {
  return entry.inactive > 0
    ? `${formatNumber(entry.accounts)}, and ${formatNumber(entry.inactive)} deactivated`
    : formatNumber(entry.accounts);
}

/** Those who look after something, by name. */
export function OwnersEditor(props: {
  all: { id: string; name: string }[];
  label: string;
  gone: (name: string) => string;
  onChange: (ids: string[]) => void;
}) {
  const ids = props.all.map((o) => o.id);
  return (
    <>
      {ids.length === 0 && <p className="text-shut">Nobody looks after it.</p>}
      <ul>
        {props.all.map((o) => (
          <li key={o.id} className="border-line flex items-center border-b py-1">
            {o.name}
            <RemoveButton label={props.gone(o.name)} onPress={() => props.onChange(ids.filter((id) => id !== o.id))} />
          </li>
        ))}
      </ul>
      <div className="mt-1">
        <EntityPicker
          label={props.label}
          kinds="account"
          refuse={(hit) => (ids.includes(hit.id) ? 'Named already' : undefined)}
          onPick={(hit) => props.onChange([...ids, hit.id])}
        />
      </div>
    </>
  );
}

/** Members: the groups listed, then everyone by name with the way in. */
export function MemberList(props: {
  groups: GroupEntry['groups'];
  accounts: GroupEntry['members'];
  onOpen: (group: string) => void;
  onRemove: (who: string) => void;
}) {
  const [question] = useQuestion();
  return (
    <>
      <ul>
        {props.groups.map((g) => (
          <li key={g.id} className="border-line flex items-center gap-2 border-b py-1">
            <button className="quiet" onClick={() => props.onOpen(g.id)}>
              {g.name}
            </button>
            <span className="text-ink2 text-[13px]">a group of {formatNumber(g.accounts ?? 0)}</span>
            <RemoveButton label={`Take ${g.name} out`} onPress={() => props.onRemove(`group:${g.id}`)} />
          </li>
        ))}
      </ul>
      {props.accounts.length > 0 && (
        <VirtualRows
          label="Members"
          items={props.accounts}
          maxHeight="260px"
          row={(m) => (
            <>
              <Link
                className="w-36 shrink-0 truncate font-semibold hover:underline"
                to={`/ladder${writeQuestion({ ...question, who: account(m.id) })}`}
              >
                {m.name}
              </Link>
              {m.active && <ViewAs id={m.id} name={m.name} />}
              <span className="text-ink2 truncate text-[13px]" title={`${m.unit}, ${m.way}`}>
                {m.active ? m.unit : 'deactivated'}
                {!m.listed && `, ${m.way}`}
              </span>
              {m.listed && (
                <RemoveButton label={`Take ${m.name} out`} onPress={() => props.onRemove(`account:${m.id}`)} />
              )}
            </>
          )}
        />
      )}
    </>
  );
}

const USED: Record<DirectoryEntry['usedBy'][number]['kind'], string> = {
  policy: 'policy',
  plan: 'licence plan',
  release: 'release',
  unit: 'unit',
  account: 'account',
  group: 'group',
  workspace: 'workspace',
  hosting: 'hosting',
  setting: 'setting',
};

const USES_TOLD = 12;

/** What names the unit or group, policies with their assignments first. */
export function Usages({ entry }: { entry: DirectoryEntry }) {
  const [question] = useQuestion();
  const [send, refusal] = useStaging();
  // The workspaces of a hosting stand in a list of their own.
  const rest = entry.usedBy.filter(
    (u) => u.kind !== 'policy' && u.kind !== 'group' && !('keepers' in entry && u.kind === 'workspace'),
  );
  return (
    <>
      <h2 className="font-display mt-5 text-[16px] font-semibold">Used for</h2>
      {refusal}
      {entry.policies.length + rest.length === 0 && <p className="text-ink2">No policy or plan names it.</p>}
      <ul>
        {entry.policies.map((p) => (
          <li key={p.id + JSON.stringify(p.assignment)} className="border-line flex items-center gap-2 border-b py-1">
            <Link className="quiet" to={`/policies/${encodeURIComponent(p.id)}${writeQuestion(question)}`}>
              {p.name}
            </Link>{' '}
            <span className="text-ink2 text-[13px]">{p.include ? 'included' : 'excepted'}</span>
            <RemoveButton
              label={`Take ${entry.name} out of ${p.name}`}
              onPress={() => void send([{ kind: 'remove-assignment', policy: p.id, assignment: p.assignment }])}
            />
          </li>
        ))}
        {rest.slice(0, USES_TOLD).map((u) => (
          <li key={`${u.kind} ${u.id}`} className="border-line border-b py-1">
            {u.name} <span className="text-ink2 text-[13px]">{USED[u.kind]}</span>
          </li>
        ))}
        {rest.length > USES_TOLD && <li className="text-ink2 py-1">and {rest.length - USES_TOLD} more</li>}
      </ul>
    </>
  );
}
