import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { EntityPicker } from './EntityPicker';

const ORGANISATION = 'organisation';

/** A value of people: the targets by name, more of them found by name, and everyone. */
export function PeopleControl(props: { title: string; value: unknown; onChange: (value: unknown) => void }) {
  const { title } = props;
  const targets = Array.isArray(props.value) ? props.value.map(String) : [];
  const [picked, setPicked] = useState<Record<string, string>>({});
  const names = useTargetNames(targets);
  const called = (target: string) => picked[target] ?? names[target] ?? target.replace(/^[a-z]+:/, '');
  const add = (target: string, name: string) => {
    setPicked({ ...picked, [target]: name });
    if (!targets.includes(target)) props.onChange([...targets, target]);
  };
  return (
    <div className="w-72" role="group" aria-label={`Value of ${title}`}>
      {targets.length === 0 && <p className="text-ink2">Nobody.</p>}
      <ul>
        {targets.map((target) => (
          <li key={target} className="border-line flex items-center gap-2 border-b py-0.5">
            <span className="min-w-0 truncate">{target === ORGANISATION ? 'Everyone' : called(target)}</span>
            <button
              type="button"
              className="text-ink2 hover:text-ink ml-auto px-1"
              aria-label={`Remove ${called(target)}`}
              onClick={() => props.onChange(targets.filter((t) => t !== target))}
            >
              <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
                <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.8" />
              </svg>
            </button>
          </li>
        ))}
      </ul>
      <EntityPicker
        label={`Add to ${title}`}
        placeholder="Add a person, group or unit"
        kinds="account,group,unit"
        refuse={(hit) => (targets.includes(`${hit.kind}:${hit.id}`) ? 'Named already' : undefined)}
        onPick={(hit) => add(`${hit.kind}:${hit.id}`, hit.title)}
      />
      {!targets.includes(ORGANISATION) && (
        <button type="button" className="quiet text-[13px]" onClick={() => add(ORGANISATION, 'Everyone')}>
          Everyone
        </button>
      )}
    </div>
  );
}

/** What targets are called, as far as they exist. */
export function useTargetNames(targets: string[]): Record<string, string> {
  const after = useAfterDraft();
  const asked = [...targets].sort().join(',');
  const found = useQuery({
    queryKey: ['target names', asked, after.key],
    queryFn: () => unwrap(api.GET('/api/v1/target-names', { params: { query: { targets: asked, ...after.query } } })),
    enabled: asked !== '',
    placeholderData: (before) => before,
  });
  return found.data?.names ?? {};
}
