import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, type ReactNode } from 'react';

const ROW = 30;

/** A list of any length in a box that scrolls; only the rows in sight are drawn. */
export function VirtualRows<T>(props: { label: string; items: T[]; maxHeight: string; row: (item: T) => ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: props.items.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  return (
    <div
      ref={box}
      role="list"
      aria-label={props.label}
      tabIndex={0}
      className="border-line overflow-y-auto border-y"
      style={{ maxHeight: props.maxHeight }}
    >
      <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => (
          <div
            key={item.key}
            role="listitem"
            className="border-line absolute inset-x-0 top-0 flex items-center gap-3 border-b"
            style={{ height: ROW, transform: `translateY(${item.start}px)` }}
          >
            {props.row(props.items[item.index] as T)}
          </div>
        ))}
      </div>
    </div>
  );
}
