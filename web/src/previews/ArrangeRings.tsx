import { useState } from 'react';
import type { Edit } from '../api/client';
import { SortableList, useRow } from '../parts/SortableList';
import type { RingLine } from './queries';

/** A ring while it is arranged; one without an id is new. */
export interface Draft {
  key: string;
  id?: string;
  name: string;
  asksConsent: boolean;
  devices: string;
}

const list = (text: string) =>
  text
    .split(',')
    .map((d) => d.trim())
    .filter(Boolean);

/** The edit that arranges rings so. The outermost is everyone's and asks nobody. */
export function arranged(drafts: Draft[]): Edit {
  return {
    kind: 'arrange-rings',
    rings: drafts.map((d, i) => ({
      ...(d.id === undefined ? {} : { id: d.id }),
      name: d.name.trim(),
      asksConsent: i + 1 < drafts.length && d.asksConsent,
      devices: list(d.devices),
    })),
  };
}

/** The rings from the innermost outwards: called otherwise, moved, one more, one less, asking consent or not. */
export function ArrangeRings(props: {
  rings: RingLine[];
  onEdit: (edits: Edit[]) => Promise<boolean>;
  onClose: () => void;
}) {
  const [drafts, setDrafts] = useState<Draft[]>(() =>
    props.rings.length === 0
      ? [
          { key: '1', name: '', asksConsent: true, devices: '' },
          { key: '2', name: 'Everyone', asksConsent: false, devices: '' },
        ]
      : props.rings.map((r) => ({
          key: r.id,
          id: r.id,
          name: r.name,
          asksConsent: r.asksConsent,
          devices: r.devices.join(', '),
        })),
  );
  const put = (key: string, members: Partial<Draft>) =>
    setDrafts(drafts.map((d) => (d.key === key ? { ...d, ...members } : d)));
  const move = (key: string, onto: string) => {
    const to = drafts.findIndex((d) => d.key === onto);
    const moved = drafts.find((d) => d.key === key);
    if (!moved || to < 0) return;
    const rest = drafts.filter((d) => d.key !== key);
    setDrafts([...rest.slice(0, to), moved, ...rest.slice(to)]);
  };
  const unnamed = drafts.some((d) => d.name.trim() === '');
  return (
    <section aria-label="Arrange the rings" className="bg-paper border-line mt-3 max-w-3xl border p-3">
      <div className="flex items-baseline gap-3">
        <h2 className="font-display text-[16px] font-semibold">The rings, from the innermost outwards</h2>
        {props.rings.length > 0 && (
          <button className="button ml-auto" onClick={props.onClose}>
            Close
          </button>
        )}
      </div>
      <SortableList label="Rings" ids={drafts.map((d) => d.key)} onMove={move} className="border-line mt-2 border-t">
        {drafts.map((d, i) => (
          <Row
            key={d.key}
            draft={d}
            outermost={i + 1 === drafts.length}
            only={drafts.length === 1}
            onPut={(members) => put(d.key, members)}
            onRemove={() => setDrafts(drafts.filter((other) => other.key !== d.key))}
          />
        ))}
      </SortableList>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button
          className="quiet"
          onClick={() => setDrafts([{ key: String(Date.now()), name: '', asksConsent: true, devices: '' }, ...drafts])}
        >
          One more, inside all others
        </button>
        <button
          className="button button-strong ml-auto"
          disabled={unnamed}
          title={unnamed ? 'Every ring wants a name' : undefined}
          onClick={() => void props.onEdit([arranged(drafts)]).then((done) => done && props.onClose())}
        >
          Arrange them so
        </button>
      </div>
    </section>
  );
}

function Row(props: {
  draft: Draft;
  outermost: boolean;
  only: boolean;
  onPut: (members: Partial<Draft>) => void;
  onRemove: () => void;
}) {
  const { draft } = props;
  const called = draft.name.trim() || 'the new ring';
  const { row, handle } = useRow(draft.key);
  return (
    <li {...row} className="border-line bg-paper flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5">
      <button {...handle} className="text-ink2 cursor-grab px-1" aria-label={`Move ${called}`}>
        ⠿
      </button>
      <input
        className="field w-44"
        aria-label={`Name of ${called}`}
        placeholder="What it is called"
        value={draft.name}
        onChange={(e) => props.onPut({ name: e.target.value })}
      />
      <label className="flex w-44 items-center gap-2">
        <input
          type="checkbox"
          disabled={props.outermost}
          checked={!props.outermost && draft.asksConsent}
          onChange={(e) => props.onPut({ asksConsent: e.target.checked })}
        />
        {props.outermost ? 'asks nobody' : 'asks each to consent'}
      </label>
      <input
        className="field min-w-40 flex-1"
        aria-label={`Devices on which ${called} tries things`}
        placeholder="Devices, such as tablet, desk"
        value={draft.devices}
        onChange={(e) => props.onPut({ devices: e.target.value })}
      />
      <button
        className="quiet text-[13px]"
        disabled={props.only}
        aria-label={`Take ${called} away`}
        onClick={props.onRemove}
      >
        Take away
      </button>
    </li>
  );
}
