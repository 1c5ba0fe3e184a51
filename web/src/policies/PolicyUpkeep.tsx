import { useState } from 'react';
import { useDraft } from '../draft/draft';
import { DateField } from '../parts/DateField';
import { EditableText } from '../parts/EditableText';
import { EntityPicker } from '../parts/EntityPicker';
import { formatWindow } from '../text/dates';
import type { PolicyForm } from './policyDiff';
import { Alert } from '../parts/Alert';

/** Who looks after a policy, when it is looked at again, when it ends, and above which other it stands. */
export function PolicyUpkeep(props: {
  id: string;
  sheet: PolicyForm;
  zone: string;
  told: Map<string, string>;
  onChange: (sheet: PolicyForm) => void;
}) {
  const { sheet, zone, told, onChange } = props;
  const { stage } = useDraft();
  const [placing, setPlacing] = useState(false);
  const included = sheet.assignments.filter((a) => a.include !== undefined);
  const ends = [...new Set(included.map((a) => a.until))];
  const end = ends.length === 1 ? ends[0] : undefined;
  const endAll = (until: string | undefined) =>
    onChange({
      ...sheet,
      assignments: sheet.assignments.map((a) => {
        if (a.include === undefined) return a;
        const next = { ...a };
        if (until) next.until = until;
        else delete next.until;
        return next;
      }),
    });
  return (
    <div className="mt-2 flex flex-wrap items-start gap-x-5 gap-y-1 text-[13px]">
      <span className="flex items-center gap-2">
        <span className="text-ink2">Owner</span>
        <EditableText
          label="Owner"
          className="border-line2! ml-0! h-8 w-44!"
          placeholder="who looks after it"
          value={sheet.owner}
          onCommit={(owner) => onChange({ ...sheet, owner: owner.trim() })}
        />
      </span>
      <span className="flex items-start gap-2">
        <span className="text-ink2 leading-8">Next review</span>
        <DateField
          label="Next review"
          zone={zone}
          of="day"
          value={sheet.review === '' ? undefined : sheet.review}
          onChange={(review) => onChange({ ...sheet, review: review ?? '' })}
        />
      </span>
      {included.length > 0 && (
        <span className="flex items-start gap-2">
          <span className="text-ink2 leading-8">Ends</span>
          <span>
            <DateField
              label="The policy ends"
              zone={zone}
              of="instant"
              side="future"
              until
              value={end}
              onChange={endAll}
            />
            {ends.length > 1 && (
              <span className="text-ink2 block">
                Ends differ:{' '}
                {included
                  .map((a) => formatWindow(a, zone) || 'never')
                  .slice(0, 3)
                  .join(', ')}
                {included.length > 3 && ' …'}
              </span>
            )}
          </span>
        </span>
      )}
      <span className="flex items-start gap-2">
        {placing ? (
          <span className="w-56">
            <EntityPicker
              label="Place above"
              placeholder="Above which policy?"
              kinds="policy"
              refuse={(hit) => (hit.id === props.id ? 'This is the policy itself' : undefined)}
              onPick={(hit) => {
                setPlacing(false);
                void stage([{ kind: 'rank-policy', policy: props.id, above: hit.id }]);
              }}
            />
          </span>
        ) : (
          <button className="button" onClick={() => setPlacing(true)}>
            Place above…
          </button>
        )}
      </span>
      {(['owner', 'review'] as const).map(
        (name) =>
          told.has(name) && (
            <Alert key={name} className="w-full">
              The {name} {told.get(name)}.
            </Alert>
          ),
      )}
    </div>
  );
}
