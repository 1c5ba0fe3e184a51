import { unwrap, api } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ImportFile, type FileKind } from '../parts/ImportFile';

type What = 'rules' | 'purchases';

const KINDS: Record<What, FileKind<What>> = {
  rules: { what: 'rules', name: 'rules', columns: 'kind (include or except), target, off, from, until' },
  purchases: { what: 'purchases', name: 'purchases', columns: 'seats, from, until, note' },
};

/** Rules or purchases of a plan from a file, as they are written out as CSV. */
export function PlanFile({ plan, what, onClose }: { plan: string; what: What; onClose: () => void }) {
  const after = useAfterDraft();
  return (
    <ImportFile
      kinds={[KINDS[what]]}
      initial={what}
      className="bg-paper border-line mt-2 border p-3"
      read={(_, file, columns) =>
        unwrap(
          api.POST('/api/v1/plans/{plan}/imports/{what}', {
            params: { path: { plan, what }, query: { name: file.name, columns, ...after.query } },
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
