import { clsx } from 'clsx';
import { useState } from 'react';

/** A line of text that is taken on Enter, or when the field is left; Escape leaves it as it was. */
export function EditableText(props: {
  id?: string;
  label?: string;
  className?: string;
  placeholder?: string;
  value: string;
  invalid?: boolean;
  onCommit: (text: string) => void;
}) {
  const [typed, setTyped] = useState<string>();
  const commit = () => {
    if (typed !== undefined && typed !== props.value) props.onCommit(typed);
    setTyped(undefined);
  };
  return (
    <input
      id={props.id}
      aria-label={props.label}
      className={clsx(
        'hover:border-line2 focus:border-line2 -ml-2 w-full rounded-[3px] border border-transparent bg-transparent px-2 py-0.5',
        props.className,
      )}
      placeholder={props.placeholder}
      value={typed ?? props.value}
      aria-invalid={props.invalid || undefined}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') commit();
        if (e.key === 'Escape') setTyped(undefined);
      }}
    />
  );
}
