import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

/** What a trigger opens beside itself, above all else. */
export function PopoverPanel(props: {
  label: string;
  side?: 'top' | 'bottom';
  align?: 'start' | 'end';
  offset?: number;
  /** Its width, its padding, and what it does where it is too long. */
  className?: string;
  /** Where the focus goes when it closes; to the trigger, unless the event is prevented. */
  onCloseAutoFocus?: (event: Event) => void;
  children: ReactNode;
}) {
  return (
    <Popover.Portal>
      <Popover.Content
        side={props.side}
        align={props.align ?? 'end'}
        sideOffset={props.offset ?? 4}
        aria-label={props.label}
        onCloseAutoFocus={props.onCloseAutoFocus}
        className={clsx('bg-sheet text-ink border-line2 z-40 rounded border shadow-lg', props.className)}
      >
        {props.children}
      </Popover.Content>
    </Popover.Portal>
  );
}
