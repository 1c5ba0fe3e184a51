import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { unwrap, api } from '../api/client';
import { EntityPicker } from '../parts/EntityPicker';
import type { RingLine } from './queries';
import { copy, NOT_COPIED } from '../text/clipboard';
import { Select } from '../parts/Select';

/** Where calendars of arrivals are found: everyone's, or those of a ring, a unit or a person. */
export function Calendars({ rings, onClose }: { rings: RingLine[]; onClose: () => void }) {
  const [of, setOf] = useState('everyone');
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ['calendar', of],
    queryFn: () => unwrap(api.GET('/api/v1/calendars', { params: { query: { of } } })),
  });
  const renew = useMutation({
    mutationFn: () => unwrap(api.POST('/api/v1/calendars', { body: { of } })),
    onSuccess: (made) => queries.setQueryData(['calendar', of], made),
  });
  const [said, setSaid] = useState('');
  const path = found.data?.path ?? null;
  const address = path === null ? '' : window.location.origin + path;
  const choose = (next: string) => {
    setOf(next);
    setSaid('');
  };
  return (
    <section aria-label="Calendars" className="bg-paper border-line mt-2 mb-3 max-w-3xl border p-3">
      <div className="flex items-center gap-3">
        <h3 className="font-semibold">As a calendar that programs subscribe to</h3>
        <button className="button ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Select
          label="Whose calendar"
          value={rings.some((r) => `ring:${r.id}` === of) || of === 'everyone' ? of : 'other'}
          options={[
            { value: 'everyone', label: 'everyone’s' },
            ...rings.map((r) => ({ value: `ring:${r.id}`, label: `of the ring ${r.name}` })),
            ...(of !== 'everyone' && !of.startsWith('ring:')
              ? [{ value: 'other', label: `of ${found.data?.words ?? '…'}` }]
              : []),
          ]}
          onChange={choose}
        />
        <div className="w-64">
          <EntityPicker
            label="Of a unit or a person"
            placeholder="or of a unit, a person"
            kinds="unit,account"
            onPick={(hit) => choose(`${hit.kind}:${hit.id}`)}
          />
        </div>
      </div>
      {found.isError && <p className="text-shut mt-2">{found.error.message}</p>}
      {found.data && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          {path === null ? (
            <p className="text-ink2">It has no address yet.</p>
          ) : (
            <input
              className="field min-w-60 flex-1"
              aria-label="Its address"
              readOnly
              value={address}
              onFocus={(e) => e.target.select()}
            />
          )}
          {path !== null && (
            <button
              className="button"
              onClick={() => void copy(address).then((done) => setSaid(`${done ? 'Copied' : NOT_COPIED}.`))}
            >
              Copy
            </button>
          )}
          <button
            className="button"
            disabled={renew.isPending}
            onClick={() => {
              setSaid('');
              renew.mutate();
            }}
          >
            {path === null ? 'Give it one' : 'Renew'}
          </button>
        </div>
      )}
      <p className="text-ink2 mt-1 text-[13px]" role="status">
        {renew.isError
          ? renew.error.message
          : said ||
            (path === null
              ? 'Whoever knows the address can read the calendar.'
              : 'Whoever knows the address can read the calendar; renewing it shuts the one before.')}
      </p>
    </section>
  );
}
