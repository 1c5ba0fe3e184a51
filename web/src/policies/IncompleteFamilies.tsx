import type { Family, Setting } from '../api/client';
import { joinList } from '../text/words';
import type { Line } from './policyDiff';
import { completed, incompleteFamilies } from './families';

/** Says where a policy speaks on half a family, and completes it in one step. */
export function IncompleteFamilies(props: {
  families: Family[];
  lines: Line[];
  settings: Map<string, Setting>;
  onChange: (lines: Line[]) => void;
}) {
  const title = (key: string) => props.settings.get(key)?.title ?? key;
  return incompleteFamilies(props.families, props.lines).map(({ family, missing }) => (
    <div
      key={family.id}
      role="note"
      aria-label={`Half a family: ${family.name}`}
      className="border-draft bg-paper mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 border-l-4 px-3 py-1.5"
    >
      <span>
        <strong className="font-semibold">Half of {family.name}:</strong> it does not set {joinList(missing.map(title))}
        .
      </span>
      <span className="ml-auto flex flex-wrap gap-2">
        {family.states.map((state) => (
          <button key={state.name} className="button" onClick={() => props.onChange(completed(props.lines, state))}>
            {state.name}
          </button>
        ))}
      </span>
    </div>
  ));
}
