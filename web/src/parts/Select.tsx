import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import { useId, useRef, useState, type KeyboardEvent } from 'react';
import { PopoverPanel } from './PopoverPanel';

/** From so many options on, one finds them by typing. */
const LONG = 9;

/** What can be chosen. */
export interface SelectOption {
  value: string;
  label: string;
  /** The heading below which it stands, with those beside it of the same heading. */
  group?: string;
}

/**
 * Chooses one of some options. The list opens with a press, Enter, Space or an arrow key; arrow keys move in it, typing finds, Enter
 * chooses, Escape leaves everything as it was. A long list has a field above it that narrows it.
 */
export function Select<V extends string = string>(props: {
  label: string;
  value: string | undefined;
  options: SelectOption[];
  onChange: (value: V) => void;
  /** What stands there while no option has the value. */
  placeholder?: string;
  className?: string;
  invalid?: boolean;
  describedBy?: string;
}) {
  const { options, value } = props;
  const id = useId();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const typed = useRef({ text: '', when: 0 });
  const long = options.length >= LONG;
  const words = long ? text.toLowerCase().split(/\s+/).filter(Boolean) : [];
  const shown = options.filter((o) => words.every((w) => `${o.label} ${o.group ?? ''}`.toLowerCase().includes(w)));
  const chosen = options.find((o) => o.value === value);
  const here = Math.min(at, shown.length - 1);
  const turn = (next: boolean) => {
    setText('');
    setAt(
      Math.max(
        0,
        options.findIndex((o) => o.value === value),
      ),
    );
    setOpen(next);
  };
  const choose = (option: SelectOption | undefined) => {
    if (!option) return;
    setOpen(false);
    if (option.value !== value) props.onChange(option.value as V);
  };
  const find = (key: string, when: number) => {
    typed.current = { text: (when - typed.current.when < 800 ? typed.current.text : '') + key.toLowerCase(), when };
    const found = shown.findIndex((o) => o.label.toLowerCase().startsWith(typed.current.text));
    if (found >= 0) setAt(found);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const moves: Record<string, number> = {
      ArrowDown: Math.min(here + 1, shown.length - 1),
      ArrowUp: Math.max(here - 1, 0),
      Home: 0,
      End: shown.length - 1,
    };
    const to = moves[e.key];
    if (to !== undefined && !(long && (e.key === 'Home' || e.key === 'End'))) {
      e.preventDefault();
      setAt(to);
      document.getElementById(`${id}-${to}`)?.scrollIntoView({ block: 'nearest' });
    } else if (e.key === 'Enter' || (e.key === ' ' && !long)) {
      e.preventDefault();
      choose(shown[here]);
    } else if (!long && e.key.length === 1 && !e.ctrlKey && !e.metaKey) find(e.key, e.timeStamp);
  };
  const list = {
    'aria-activedescendant': here >= 0 ? `${id}-${here}` : undefined,
    onKeyDown,
  };
  return (
    <Popover.Root open={open} onOpenChange={turn}>
      <Popover.Trigger asChild>
        <button
          type="button"
          role="combobox"
          aria-label={props.label}
          aria-haspopup="listbox"
          aria-expanded={open}
          aria-controls={`${id}-list`}
          aria-invalid={props.invalid || undefined}
          aria-describedby={props.describedBy}
          value={value}
          className={clsx('field inline-flex items-center gap-2 text-left', props.className)}
          onKeyDown={(e) => {
            if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
            e.preventDefault();
            turn(true);
          }}
        >
          <span className={clsx('min-w-0 flex-1 truncate', !chosen && 'text-ink2')}>
            {chosen?.label ?? props.placeholder ?? ''}
          </span>
          <svg width="9" height="6" viewBox="0 0 9 6" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden>
            <path d="M1 1l3.5 3.5L8 1" />
          </svg>
        </button>
      </Popover.Trigger>
      <PopoverPanel label={props.label} align="start" className="min-w-(--radix-popover-trigger-width) max-w-96 p-1">
        {long && (
          <input
            className="field mb-1 w-full"
            role="combobox"
            aria-label={`${props.label}: find`}
            aria-expanded
            aria-controls={`${id}-list`}
            {...list}
            autoComplete="off"
            spellCheck={false}
            placeholder="Type to find"
            value={text}
            onChange={(e) => {
              setText(e.target.value);
              setAt(0);
            }}
          />
        )}
        <ul
          id={`${id}-list`}
          role="listbox"
          aria-label={props.label}
          tabIndex={long ? -1 : 0}
          {...(long ? {} : list)}
          className="max-h-72 overflow-y-auto outline-none"
        >
          {shown.map((option, i) => (
            // The keyboard reaches the options through the list or the field above it.
            // eslint-disable-next-line jsx-a11y/click-events-have-key-events
            <li
              key={option.value}
              id={`${id}-${i}`}
              role="option"
              aria-selected={option.value === value}
              tabIndex={-1}
              className={clsx('cursor-pointer rounded-[3px] px-2 py-1', i === here && 'bg-well')}
              onMouseEnter={() => setAt(i)}
              onClick={() => choose(option)}
            >
              {option.group !== undefined && option.group !== shown[i - 1]?.group && (
                <span className="text-ink2 -mx-1 block pb-0.5 text-[12px]" aria-hidden>
                  {option.group}
                </span>
              )}
              <span className={clsx(option.value === value && 'font-semibold')}>{option.label}</span>
            </li>
          ))}
        </ul>
        {shown.length === 0 && <p className="text-ink2 px-2 py-1">Nothing fits “{text.trim()}”.</p>}
      </PopoverPanel>
    </Popover.Root>
  );
}
