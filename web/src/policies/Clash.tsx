import type { Problem } from '../api/client';

/** Edits of the same parts, published meanwhile: both sides, and the choice. */
export function Clash(props: { problem: Problem; onMine: () => void; onTheirs: () => void }) {
  return (
    <div role="alert" className="border-draft bg-paper border-t-2 px-6 py-3">
      <strong>{props.problem.detail}</strong>
      <ul className="mt-1 space-y-1">
        {props.problem.clashes?.map((clash, i) => (
          <li key={i}>
            Change {clash.change.number} by {clash.change.author} {told(clash.theirs)}; yours {told(clash.yours)}.
          </li>
        ))}
      </ul>
      <div className="mt-2 flex gap-2">
        <button className="button" onClick={props.onMine}>
          Put mine on top
        </button>
        <button className="button" onClick={props.onTheirs}>
          Keep theirs
        </button>
      </div>
    </div>
  );
}

/** What an edit does, for setting two of them side by side. */
function told(edit: Record<string, unknown>): string {
  const statement = edit['statement'] as Record<string, unknown> | undefined;
  switch (edit['kind']) {
    case 'replace-estate':
      return 'replaces the whole estate';
    case 'add-policy':
      return 'adds the policy';
    case 'remove-policy':
      return 'deletes the policy';
    case 'put-statement':
      return `says ${JSON.stringify(statement?.['set'] ?? statement?.['cap'])} on ${String(statement?.['setting'])}`;
    case 'remove-statement':
      return `says nothing on ${String(edit['setting'])}`;
    case 'rank-policy':
      return 'moves it in the ranking';
    case 'amend-policy':
      return `changes ${Object.keys((edit['members'] as object | undefined) ?? {}).join(' and ')}`;
    default:
      return 'changes whom it is for';
  }
}
