import { useQuery } from '@tanstack/react-query';
import { api, unwrap, type Edit } from '../api/client';
import { useAfterDraft } from '../draft/draft';

/** Where a deactivated account is still named, and how to remove it from all of that at once. */
export function Departure({ id, send }: { id: string; send: (edits: Edit[]) => Promise<boolean> }) {
  const after = useAfterDraft();
  const found = useQuery({
    queryKey: ['departure', id, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/accounts/{id}/departure', { params: { path: { id }, query: after.query } })),
    placeholderData: (before) => before,
  });
  const edit = found.data?.edit;
  if (!found.data || found.data.namedIn.length === 0) return null;
  return (
    <section aria-label="Still named in" className="border-shut bg-paper mt-3 border-l-4 px-3 py-2">
      <h2 className="font-semibold">Still named in</h2>
      <ul>
        {found.data.namedIn.map((one) => (
          <li key={one.words}>
            {one.words}
            {!one.removed && <span className="text-ink2 text-[13px]"> — stays</span>}
          </li>
        ))}
      </ul>
      {edit && (
        <button className="button mt-2" onClick={() => void send([edit])}>
          Remove from all of these
        </button>
      )}
    </section>
  );
}
