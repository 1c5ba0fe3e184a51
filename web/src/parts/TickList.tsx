import { useState, type ReactNode } from 'react';
import { count } from '../text/words';
import { VirtualRows } from './VirtualRows';

/** Rows of which some are ticked, to do one thing with all of them. What can be done stands below while any is. */
export function TickList<T>(props: {
  /** What the list is called for screen readers. */
  label: string;
  items: T[];
  maxHeight: string;
  /** Of an item, its id. */
  id: (item: T) => string;
  /** Of an item, what ticking it is called; undefined where it cannot be ticked. */
  tick: (item: T) => string | undefined;
  row: (item: T) => ReactNode;
  /** What can be done with those ticked. */
  actions: (ticked: T[], clear: () => void) => ReactNode;
}) {
  const [ticked, setTicked] = useState(new Map<string, T>());
  const set = (item: T, on: boolean) => {
    const next = new Map(ticked);
    if (on) next.set(props.id(item), item);
    else next.delete(props.id(item));
    setTicked(next);
  };
  const clear = () => setTicked(new Map());
  return (
    <>
      <VirtualRows
        label={props.label}
        items={props.items}
        maxHeight={props.maxHeight}
        row={(item) => {
          const tick = props.tick(item);
          return (
            <>
              {tick !== undefined && (
                <input
                  type="checkbox"
                  aria-label={tick}
                  checked={ticked.has(props.id(item))}
                  onChange={(e) => set(item, e.target.checked)}
                />
              )}
              {props.row(item)}
            </>
          );
        }}
      />
      {ticked.size > 0 && (
        <div
          role="region"
          aria-label="Those ticked"
          className="bg-paper border-line2 mt-2 flex flex-wrap items-center gap-3 border px-3 py-2"
        >
          <strong className="font-semibold">{count(ticked.size, 'account')} ticked</strong>
          {props.actions([...ticked.values()], clear)}
          <button className="quiet" onClick={clear}>
            Tick none
          </button>
        </div>
      )}
    </>
  );
}
