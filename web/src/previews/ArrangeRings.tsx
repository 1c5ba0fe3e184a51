import { useState } from 'react';
import type { Edit, Schemas } from '../api/client';
import { SortableList, useRow } from '../parts/SortableList';
import type { RingLine } from './queries';

/** A ring while it is arranged; one without an id is new. */
export interface Draft {
  key: string;
  id?: string;
  name: string;
  asksConsent: boolean;
  devices: string;
  /** The terms that stand, and the text that was typed. */
  terms?: { version: number; text: string; from: number };
  text: string;
  /** Whether those who agreed to an earlier text are asked again. */
  anew: boolean;
}

const list = (text: string) =>
  text
    .split(',')
    .map((d) => d.trim())
    .filter(Boolean);

/** The terms as they shall be: another text is another version, and is good from itself on where people are asked again. */
export function termsOf(draft: Draft): { version: number; text: string; from: number } | undefined {
  const text = draft.text.trim();
  const was = draft.terms;
  if (text === '') return undefined;
  if (was && text === was.text) return was;
  const version = (was?.version ?? 0) + 1;
  return { version, text, from: draft.anew ? version : (was?.from ?? 0) };
}

/** The edit that arranges rings so. The outermost is everyone's and asks nobody. */
export function arranged(drafts: Draft[], track?: TrackOf): Edit {
  const rings = drafts.map((d, i) => {
    const terms = termsOf(d);
    return {
      ...(d.id === undefined ? {} : { id: d.id }),
      name: d.name.trim(),
      asksConsent: i + 1 < drafts.length && d.asksConsent,
      devices: list(d.devices),
      ...(terms ? { terms } : {}),
    };
  });
  if (!track) return { kind: 'arrange-rings', rings };
  return {
    kind: 'arrange-tracks',
    tracks: track.all.map((one) =>
      one.id === track.id ? { id: one.id, name: one.name, setting: one.setting, rings } : one,
    ),
  };
}

/** The further track whose rings are arranged, among all of them. */
export interface TrackOf {
  id: string;
  all: Schemas['TrackForm'][];
}

const BLANK = { name: '', asksConsent: true, devices: '', text: '', anew: true };

/** The rings from the innermost outwards: called otherwise, moved, one more, one less, asking consent or not. */
export function ArrangeRings(props: {
  rings: RingLine[];
  track?: TrackOf;
  onEdit: (edits: Edit[]) => Promise<boolean>;
  onClose: () => void;
}) {
  const [drafts, setDrafts] = useState<Draft[]>(() =>
    props.rings.length === 0
      ? [
          { ...BLANK, key: '1' },
          { ...BLANK, key: '2', name: 'Everyone', asksConsent: false },
        ]
      : props.rings.map((r) => ({
          key: r.id,
          id: r.id,
          name: r.name,
          asksConsent: r.asksConsent,
          devices: r.devices.join(', '),
          terms: r.terms ?? undefined,
          text: r.terms?.text ?? '',
          anew: true,
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
        <button className="quiet" onClick={() => setDrafts([{ ...BLANK, key: String(Date.now()) }, ...drafts])}>
          One more, inside all others
        </button>
        <button
          className="button button-strong ml-auto"
          disabled={unnamed}
          title={unnamed ? 'Every ring wants a name' : undefined}
          onClick={() => void props.onEdit([arranged(drafts, props.track)]).then((done) => done && props.onClose())}
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
  const [open, setOpen] = useState(false);
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
      {!props.outermost && draft.asksConsent && (
        <button className="quiet text-[13px]" aria-expanded={open} onClick={() => setOpen(!open)}>
          {draft.terms ? `Terms, version ${draft.terms.version}` : draft.text.trim() ? 'Terms' : 'Add terms'}
        </button>
      )}
      <button
        className="quiet text-[13px]"
        disabled={props.only}
        aria-label={`Remove ${called}`}
        onClick={props.onRemove}
      >
        Remove
      </button>
      {open && !props.outermost && draft.asksConsent && (
        <div className="grid w-full gap-1 pl-8">
          <textarea
            className="field h-auto w-full py-1"
            rows={4}
            aria-label={`Terms of ${called}`}
            placeholder="What one agrees to by joining. It is read before anybody can join."
            value={draft.text}
            onChange={(e) => props.onPut({ text: e.target.value })}
          />
          {draft.terms && draft.text.trim() !== '' && draft.text.trim() !== draft.terms.text && (
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={draft.anew} onChange={(e) => props.onPut({ anew: e.target.checked })} />
              Version {draft.terms.version + 1}: whoever agreed to an earlier one has to agree again
            </label>
          )}
        </div>
      )}
    </li>
  );
}
