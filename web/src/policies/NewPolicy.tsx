import { useState } from 'react';
import { useDraft } from '../draft/draft';
import { BLANK, addition } from './policyDiff';
import { Alert } from '../parts/Alert';

/** A policy that is begun: it comes into the draft with its name. */
export function NewPolicy({ onClose, onOpen }: { onClose: () => void; onOpen: (policy: string) => void }) {
  const { add } = useDraft();
  const [name, setName] = useState('');
  const [refusal, setRefusal] = useState('');
  const begin = async () => {
    const added = await add(addition({ ...BLANK, name: name.trim() }).map((p) => p.edit));
    if (typeof added === 'string') onOpen(added);
    else setRefusal(added.defects?.map((d) => `The name ${d.message}.`).join(' ') ?? added.detail);
  };
  return (
    <section aria-label="New policy" className="flex min-w-0 flex-1 flex-col">
      <div className="border-line flex items-center gap-2 border-b px-6 py-2.5">
        <span className="text-ink2 text-[13px]">A new policy; it will stand last in the ranking</span>
        <button className="button ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <form
        className="px-6 pt-4"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <label className="sr-only" htmlFor="policy-name">
          Name
        </label>
        <input
          id="policy-name"
          className="font-display border-line2 -ml-2 w-full rounded-[3px] border bg-transparent px-2 py-0.5 text-[20px] font-semibold"
          placeholder="Name it for what it does"
          value={name}
          autoFocus
          aria-invalid={refusal !== ''}
          onChange={(e) => setName(e.target.value)}
        />
        <Alert className="mt-1">{refusal}</Alert>
        <button className="button button-strong mt-3">Create</button>
      </form>
    </section>
  );
}
