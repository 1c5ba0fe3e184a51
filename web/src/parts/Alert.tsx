import { clsx } from 'clsx';
import type { ReactNode } from 'react';

/** Why something was refused, read aloud when it appears; nothing where there is nothing to say. */
export function Alert(props: { children: ReactNode; className?: string }) {
  if (!props.children) return null;
  return (
    <span role="alert" className={clsx('text-shut block', props.className)}>
      {props.children}
    </span>
  );
}
