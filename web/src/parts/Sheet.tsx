import { clsx } from 'clsx';
import type { ReactNode, Ref } from 'react';

/** What is open beside a list: a line with what it is and how to close it, and the rest, which scrolls. */
export function Sheet(props: {
  /** What it is called for screen readers. */
  label: string;
  /** What stands before *Close*. */
  head?: ReactNode;
  children: ReactNode;
  onClose: () => void;
  className?: string;
  /** To put the focus on it. */
  focus?: Ref<HTMLElement>;
}) {
  return (
    <aside
      ref={props.focus}
      tabIndex={props.focus ? -1 : undefined}
      aria-label={props.label}
      className={clsx(
        'border-line flex w-[460px] shrink-0 flex-col border-l outline-none max-[1023px]:w-full max-[1023px]:border-0',
        props.className,
      )}
    >
      <div className="border-line flex items-center gap-2 border-b px-5 py-2.5">
        {props.head}
        <button className="button ml-auto" onClick={props.onClose}>
          Close
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-5 pt-3 pb-8">{props.children}</div>
    </aside>
  );
}
