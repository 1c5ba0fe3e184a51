import { useState } from 'react';
import type { Edit } from '../api/client';
import { useDraft } from '../draft/draft';
import { EntityPicker } from '../parts/EntityPicker';
import { useCatalogue } from '../parts/queries';
import type { ListName } from './columns';
import { Select } from '../parts/Select';
import { Alert } from '../parts/Alert';

const KINDS: Partial<Record<ListName, string>> = {
  people: 'person',
  rooms: 'room',
  guests: 'guest',
  services: 'service',
};

const NOUNS: Partial<Record<ListName, string>> = { groups: 'group', units: 'unit', workspaces: 'workspace' };

/** A new account, group, unit or workspace, staged in the draft. */
export function NewEntity(props: { list: ListName; onClose: () => void; onCreated: (id: string) => void }) {
  const { list, onClose } = props;
  const { add } = useDraft();
  const kind = KINDS[list];
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [unit, setUnit] = useState<{ id: string; title: string }>();
  const [access, setAccess] = useState(true);
  const sizes = useCatalogue().data?.sizes ?? [];
  const [size, setSize] = useState<string>();
  const [refusal, setRefusal] = useState('');
  const edit = (): Edit =>
    kind
      ? {
          kind: 'add-account',
          account: { userName: address.trim(), displayName: name.trim(), kind, unit: unit?.id ?? '' },
        }
      : list === 'groups'
        ? { kind: 'add-group', group: { name: name.trim(), purpose: access ? 'access' : 'mailing' } }
        : list === 'workspaces'
          ? { kind: 'add-workspace', workspace: { name: name.trim(), size: size ?? sizes[0] ?? '' } }
          : list === 'hostings'
            ? { kind: 'add-hosting', hosting: { name: name.trim(), size: size ?? sizes[0] ?? '' } }
            : { kind: 'add-unit', unit: { name: name.trim(), parent: unit?.id ?? null } };
  const send = async () => {
    if (list !== 'groups' && list !== 'workspaces' && list !== 'hostings' && !unit) {
      setRefusal(kind ? 'Choose the unit it is in.' : 'Choose the unit above it.');
      return;
    }
    const created = await add([edit()]);
    if (typeof created === 'string') props.onCreated(created);
    else setRefusal(created.defects?.map((d) => `${part(d.pointer)} ${d.message}.`).join(' ') ?? created.detail);
  };
  return (
    <aside aria-label="New" className="border-line w-[440px] shrink-0 border-l px-5 py-3">
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <div className="flex items-center">
          <h2 className="font-display text-[18px] font-semibold">New {kind ?? NOUNS[list]}</h2>
          <button type="button" className="button ml-auto" onClick={onClose}>
            Close
          </button>
        </div>
        <label className="block">
          Name
          <input className="field mt-1 w-full" value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        {kind && (
          <label className="block">
            Address
            <input className="field mt-1 w-full" value={address} onChange={(e) => setAddress(e.target.value)} />
          </label>
        )}
        {list === 'workspaces' || list === 'hostings' ? (
          <span className="flex items-center gap-2">
            {list === 'hostings' ? 'Size' : 'Hosting of size'}
            <Select
              label="Size"
              value={size ?? sizes[0]}
              options={sizes.map((s) => ({ value: s, label: s }))}
              onChange={setSize}
            />
          </span>
        ) : list === 'groups' ? (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={access} onChange={(e) => setAccess(e.target.checked)} />
            For access, so that policies can aim at it
          </label>
        ) : (
          <div>
            <p>
              {kind ? 'In the unit' : 'Below the unit'}: <strong>{unit?.title ?? 'none chosen'}</strong>
            </p>
            <EntityPicker
              label={kind ? 'Unit' : 'Unit above'}
              placeholder="Find a unit"
              kinds="unit"
              onPick={(found) => setUnit({ id: found.id, title: found.title })}
            />
          </div>
        )}
        <Alert>{refusal}</Alert>
        <button className="button button-strong">Create</button>
      </form>
    </aside>
  );
}

/** The last word of a pointer, as the field is called here. */
function part(pointer: string): string {
  const word = pointer.split('/').pop() ?? '';
  return { userName: 'The address', displayName: 'The name', name: 'The name', unit: 'The unit' }[word] ?? 'It';
}
