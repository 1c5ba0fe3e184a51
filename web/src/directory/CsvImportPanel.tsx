import { unwrap, api } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ImportFile, type FileKind } from '../parts/ImportFile';
import type { ListName } from './columns';

type What = 'people' | 'units' | 'members' | 'devices';

const KINDS: FileKind<What>[] = [
  { what: 'people', name: 'accounts', columns: 'id, address, name, kind, unit, title, started, active' },
  { what: 'units', name: 'units', columns: 'id, name, parent' },
  { what: 'devices', name: 'devices', columns: 'address, device, kind, name, app, version, seen' },
  { what: 'members', name: 'members of groups', columns: 'group, member' },
];

/** People, units, members of groups or devices from a file. */
export function CsvImportPanel({ list, onClose }: { list: ListName; onClose: () => void }) {
  const after = useAfterDraft();
  return (
    <ImportFile
      kinds={KINDS}
      initial={list === 'units' ? 'units' : list === 'groups' ? 'members' : 'people'}
      className="border-line w-[520px] shrink-0 border-l px-5 py-3"
      read={(what, file, columns) =>
        unwrap(
          api.POST('/api/v1/imports/{what}', {
            params: { path: { what }, query: { name: file.name, columns, ...after.query } },
            body: '',
            bodySerializer: () => file,
            headers: { 'Content-Type': 'text/csv' },
          }),
        )
      }
      onClose={onClose}
    />
  );
}
