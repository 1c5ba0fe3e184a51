import { useState } from 'react';
import type { Edit } from '../api/client';
import { useDrafting } from '../draft/draft';
import { Finder, hitOption } from '../frame/Finder';
import { count } from '../text/words';

/** What can be done with the accounts that are ticked: add them to a policy or a group, move or deactivate them. */
export function Selection({ chosen, onDone }: { chosen: Map<string, string>; onDone: () => void }) {
  const { stage } = useDrafting();
  const [refusal, setRefusal] = useState('');
  const accounts = [...chosen.keys()];
  const send = async (edits: Edit[]) => {
    const problem = await stage(edits);
    if (problem) setRefusal(problem.defects?.map((d) => `It ${d.message}.`).join(' ') ?? problem.detail);
    else onDone();
  };
  const batch = (edits: Edit[]) => send([{ kind: 'batch', source: 'a selection', edits }]);
  return (
    <div
      role="region"
      aria-label="Those ticked"
      className="bg-paper border-line2 flex flex-wrap items-start gap-3 border-t px-5 py-2"
    >
      <strong className="py-1 font-semibold">{count(chosen.size, 'account')} ticked</strong>
      <div className="w-64">
        <Finder
          label="Add those ticked to a policy or group"
          placeholder="Add to a policy or a group"
          kinds="policy,group"
          clearOnChoose
          options={(hits) =>
            hits.map((hit) =>
              hitOption(hit, () =>
                hit.kind === 'group'
                  ? void send([{ kind: 'put-members', group: hit.id, who: accounts.map((a) => `account:${a}`) }])
                  : void batch(
                      accounts.map((a) => ({
                        kind: 'put-assignment' as const,
                        policy: hit.id,
                        assignment: { include: `account:${a}` },
                      })),
                    ),
              ),
            )
          }
        />
      </div>
      <div className="w-56">
        <Finder
          label="Move those ticked to a unit"
          placeholder="Move to a unit"
          kinds="unit"
          clearOnChoose
          options={(hits) =>
            hits.map((hit) =>
              hitOption(
                hit,
                () =>
                  void batch(
                    accounts.map((a) => ({ kind: 'amend-account' as const, account: a, members: { unit: hit.id } })),
                  ),
              ),
            )
          }
        />
      </div>
      <button
        className="button"
        onClick={() =>
          void batch(accounts.map((a) => ({ kind: 'amend-account' as const, account: a, members: { active: false } })))
        }
      >
        Deactivate
      </button>
      <button className="button" onClick={onDone}>
        Tick none
      </button>
      {refusal && (
        <p role="alert" className="text-shut w-full">
          {refusal}
        </p>
      )}
    </div>
  );
}
