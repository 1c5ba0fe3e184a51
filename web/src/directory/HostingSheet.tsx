import { Link } from 'react-router';
import { type Schemas } from '../api/client';
import { EntityPicker } from '../parts/EntityPicker';
import { History } from '../parts/History';
import { Select } from '../parts/Select';
import { useStaging } from '../parts/useStaging';
import { EVERYONE, useQuestion, writeQuestion } from '../question/question';
import { count, formatNumber } from '../text/words';
import type { ListName } from './columns';
import { EntityName, OwnersEditor, RemoveButton, Usages } from './detailParts';

/** One hosting: what it is, who looks after it, which workspaces run on it, and what it keeps from those who work there. */
export function HostingSheet(props: {
  entry: Schemas['HostingEntry'];
  zone: string;
  onOpen: (list: ListName, id: string) => void;
}) {
  const { entry, zone, onOpen } = props;
  const [send, refusal] = useStaging();
  const amend = (members: Record<string, unknown>) => send([{ kind: 'amend-hosting', hosting: entry.id, members }]);
  return (
    <>
      <EntityName value={entry.name} onCommit={(name) => void amend({ name })} />
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="flex items-center gap-2">
          Size
          <Select
            label="Size"
            value={entry.size}
            options={entry.sizes.map((size) => ({ value: size, label: size }))}
            onChange={(size) => void amend({ size })}
          />
        </span>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={entry.trial} onChange={(e) => void amend({ trial: e.target.checked })} />
          On trial
        </label>
        <button className="button" onClick={() => void amend({ state: entry.running ? 'paused' : 'running' })}>
          {entry.running ? 'Pause it' : 'Let it run'}
        </button>
      </p>
      {!entry.running && (
        <p className="text-shut font-semibold">Paused: what needs hosting is blocked in every workspace on it.</p>
      )}
      {refusal}
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        Workspaces{' '}
        <span className="text-ink2 font-sans text-[14px] font-normal">
          {entry.workspaces.length > 0 && formatNumber(entry.workspaces.length)}
        </span>
      </h2>
      {entry.workspaces.length === 0 && <p className="text-ink2">None runs on it yet.</p>}
      <ul>
        {entry.workspaces.map((w) => (
          <li key={w.id} className="border-line flex items-baseline gap-2 border-b py-1">
            <button className="quiet min-w-0 truncate" onClick={() => onOpen('workspaces', w.id)}>
              {w.name}
            </button>
            <span className="text-ink2 flex-1 text-right text-[13px]">{count(w.accounts, 'member')}</span>
            <RemoveButton
              label={`Give ${w.name} hosting of its own`}
              onPress={() =>
                void send([
                  { kind: 'amend-workspace', workspace: w.id, members: { size: entry.size, trial: entry.trial } },
                ])
              }
            />
          </li>
        ))}
      </ul>
      <div className="mt-1">
        <EntityPicker
          label="Move a workspace here"
          kinds="workspace"
          refuse={(hit) => (entry.workspaces.some((w) => w.id === hit.id) ? 'Runs on it already' : undefined)}
          onPick={(hit) => void send([{ kind: 'amend-workspace', workspace: hit.id, members: { hosting: entry.id } }])}
        />
      </div>
      <RuledOut entry={entry} />
      <h2 className="font-display mt-5 text-[16px] font-semibold">Kept by</h2>
      <OwnersEditor
        all={entry.keepers}
        label="Add a keeper"
        gone={(name) => `${name} no longer looks after it`}
        onChange={(keepers) => void amend({ keepers })}
      />
      <Usages entry={entry} />
      {entry.usedBy.length === 0 && (
        <button className="button mt-4" onClick={() => void send([{ kind: 'remove-hosting', hosting: entry.id }])}>
          Delete it
        </button>
      )}
      <History about={{ hosting: entry.id }} zone={zone} heading="h2" />
    </>
  );
}

/** The settings that nobody has who works in a workspace on it. */
function RuledOut({ entry }: { entry: Schemas['HostingEntry'] }) {
  const [question] = useQuestion();
  const [first] = entry.workspaces;
  return (
    <>
      <h2 className="font-display mt-5 text-[16px] font-semibold">Not available on this hosting</h2>
      {entry.ruledOut.length === 0 && <p className="text-ink2">Nothing: it is large enough for every setting.</p>}
      <ul aria-label="Settings that this hosting rules out">
        {entry.ruledOut.map((s) => (
          <li key={s.key} className="border-line border-b py-1">
            <Link
              className="quiet"
              to={`/ladder${writeQuestion({ ...question, who: EVERYONE, what: { id: s.key }, ...(first ? { where: { id: first.id } } : {}) })}`}
            >
              {s.title}
            </Link>{' '}
            <span className="text-ink2 text-[13px]">needs {s.need.slice(0, 1).toLowerCase() + s.need.slice(1)}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
