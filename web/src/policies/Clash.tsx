import type { Problem } from '../api/client';

/** Edits of the same parts, published meanwhile: both sides, and the choice. */
export function Clash(props: { problem: Problem; onMine: () => void; onTheirs: () => void }) {
  return (
    <div role="alert" className="border-draft bg-paper border-t-2 px-6 py-3">
      <strong>{props.problem.detail}</strong>
      <ul className="mt-1 space-y-1">
        {props.problem.clashes?.map((clash, i) => (
          <li key={i}>
            Change {clash.change.number} by {clash.change.author}: {clash.theirsInWords}. Yours:{' '}
            {clash.yoursInWords || 'cannot be carried out any more'}.
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
