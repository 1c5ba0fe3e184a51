import { useState } from 'react';
import { RefusedError, unwrap, api, problemText, type Edit, type Hit } from '../api/client';
import { useAfterDraft, useDraft } from '../draft/draft';
import { EntityPicker } from '../parts/EntityPicker';
import { useQuestion } from '../question/question';
import { usePlans } from '../parts/queries';
import { count } from '../text/words';
import { GroupFrom } from './GroupFrom';
import { Select } from '../parts/Select';
import { Alert } from '../parts/Alert';

/** What can be done with the accounts that are ticked: add them to a policy, a group or a licence plan, move or deactivate them. */
export function Selection(props: {
  chosen: Map<string, string>;
  onDone: () => void;
  /** A group was made of them. */
  onGroup: (group: string) => void;
}) {
  const { chosen, onDone } = props;
  const [question] = useQuestion();
  const plans = usePlans(question);
  const { stage, tell } = useDraft();
  const after = useAfterDraft();
  const [adds, setAdds] = useState(true);
  const [refusal, setRefusal] = useState('');
  const accounts = [...chosen.keys()];
  const send = async (edits: Edit[]) => {
    const problem = await stage(edits);
    if (problem) setRefusal(problemText(problem));
    else onDone();
  };
  /** Those who are in already, or not in, are told and left as they are; the others are staged. */
  const aim = async (hit: Hit) => {
    const body = { text: accounts.join('\n'), adds, [hit.kind]: hit.id };
    try {
      const report = await unwrap(api.POST('/api/v1/addresses', { params: { query: after.query }, body }));
      const left = report.lines.filter((l) => l.verdict !== 'fits');
      const problem = report.edit ? await stage([report.edit]) : undefined;
      if (!problem && left.length === 0) onDone();
      else
        setRefusal(
          [problem && problemText(problem), ...left.map((l) => `${l.name ?? l.text}: ${l.why}`)]
            .filter(Boolean)
            .join(' '),
        );
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setRefusal(error.problem.detail);
    }
  };
  /** The rules that grant the component leave it out, and the others get it back by a group: what that comes to is told. */
  const leaveOut = async (value: string) => {
    const [plan = '', component = ''] = value.split(' ');
    try {
      const found = await unwrap(
        api.POST('/api/v1/plans/{plan}/component-exclusions', {
          params: { path: { plan }, query: after.query },
          body: { component, accounts },
        }),
      );
      const problem = await stage([found.edit]);
      if (problem) return setRefusal(problemText(problem));
      onDone();
      tell(found.words);
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      setRefusal(error.problem.detail);
    }
  };
  const batch = (edits: Edit[]) => send([{ kind: 'batch', source: 'a selection', edits }]);
  return (
    <div
      role="region"
      aria-label="Those ticked"
      className="bg-paper border-line2 flex flex-wrap items-start gap-3 border-t px-5 py-2"
    >
      <strong className="py-1 font-semibold">{count(chosen.size, 'account')} ticked</strong>
      <Select
        label="Add or take out"
        value={adds ? 'add' : 'remove'}
        options={[
          { value: 'add', label: 'add to' },
          { value: 'remove', label: 'take out of' },
        ]}
        onChange={(v) => setAdds(v === 'add')}
      />
      <div className="w-56">
        <EntityPicker
          label="A policy, group or plan for those ticked"
          placeholder="A policy, a group or a plan"
          kinds="policy,group,plan"
          onPick={(hit) => void aim(hit)}
        />
      </div>
      <div className="w-56">
        <EntityPicker
          label="Move those ticked to a unit"
          placeholder="Move to a unit"
          kinds="unit"
          onPick={(unit) =>
            void batch(
              accounts.map((a) => ({ kind: 'amend-account' as const, account: a, members: { unit: unit.id } })),
            )
          }
        />
      </div>
      <Select
        label="Leave out a component for those ticked"
        value=""
        placeholder="Leave out a component"
        options={(plans.data?.plans ?? []).flatMap((plan) =>
          plan.components.map((c) => ({ value: `${plan.id} ${c.id}`, label: `${c.name} of ${plan.name}` })),
        )}
        onChange={(value) => void leaveOut(value)}
      />
      <GroupFrom
        label="Make a group of them"
        accounts={() => Promise.resolve(accounts)}
        onCreated={(group) => {
          onDone();
          props.onGroup(group);
        }}
      />
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
      <Alert className="w-full">{refusal}</Alert>
    </div>
  );
}
