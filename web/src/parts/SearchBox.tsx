import { clsx } from 'clsx';
import { useId, useState, type ReactNode } from 'react';
import type { SearchResult, Hit } from '../api/client';
import { useSearch } from './queries';

const KIND_WORDS: Record<Hit['kind'], string> = {
  everyone: 'everyone',
  account: 'account',
  unit: 'unit',
  group: 'group',
  workspace: 'workspace',
  hosting: 'hosting',
  setting: 'setting',
  policy: 'policy',
  plan: 'licence plan',
};

/** One line that can be chosen. */
export interface Option {
  key: string;
  title: string;
  context: string;
  /** Why it cannot be chosen, where it cannot. */
  refusal?: string;
  choose: () => void;
}

/** What a hit looks like among the options. */
export function hitOption(hit: Hit, choose: () => void, refusal?: string): Option {
  const context = hit.context || KIND_WORDS[hit.kind];
  return { key: `${hit.kind}:${hit.id}`, title: hit.title, context, refusal, choose };
}

/**
 * A field that searches as one types, with the results below it: arrow keys move, Enter chooses.
 *
 * @param options what to offer for what was found
 */
export function SearchBox(props: {
  label: string;
  placeholder: string;
  kinds?: string;
  options: (hits: Hit[], readings: SearchResult['readings'], text: string) => Option[];
  empty?: ReactNode;
  autoFocus?: boolean;
  /** Whether it is the one thing of the page. */
  large?: boolean;
  clearOnChoose?: boolean;
}) {
  const id = useId();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const found = useSearch(text, props.kinds);
  const options = props.options(
    text.trim() === '' ? [] : (found.data?.hits ?? []),
    text.trim() === '' ? [] : (found.data?.readings ?? []),
    text,
  );
  const here = Math.min(at, Math.max(0, options.length - 1));
  const choose = (option: Option | undefined) => {
    if (!option || option.refusal) return;
    option.choose();
    if (props.clearOnChoose) setText('');
  };
  return (
    <div>
      <input
        className={clsx('field w-full', props.large && 'border-ink! h-11! px-3! text-[17px]')}
        role="combobox"
        aria-label={props.label}
        aria-expanded={options.length > 0}
        aria-controls={`${id}-list`}
        aria-activedescendant={options.length > 0 ? `${id}-${here}` : undefined}
        autoComplete="off"
        spellCheck={false}
        autoFocus={props.autoFocus}
        placeholder={props.placeholder}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
            e.preventDefault();
            const step = e.key === 'ArrowDown' ? 1 : -1;
            setAt((here + step + options.length) % Math.max(1, options.length));
          } else if (e.key === 'Enter') {
            e.preventDefault();
            // Enter waits for the answer to what was typed, so that it never chooses from an older one.
            if (!found.isPlaceholderData) choose(options[here]);
          }
        }}
      />
      <ul
        id={`${id}-list`}
        role="listbox"
        aria-label={`${props.label}: found`}
        className="mt-1 max-h-80 overflow-y-auto"
      >
        {options.map((option, i) => (
          // The keyboard reaches the options through the field above.
          // eslint-disable-next-line jsx-a11y/click-events-have-key-events
          <li
            key={option.key}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === here}
            aria-disabled={option.refusal !== undefined}
            tabIndex={-1}
            className={clsx(
              'rounded-[3px] px-2 py-1',
              i === here && 'bg-well',
              option.refusal ? 'text-ink2' : 'cursor-pointer',
            )}
            onMouseEnter={() => setAt(i)}
            onClick={() => choose(option)}
          >
            <span className="font-semibold">{option.title}</span>{' '}
            <span className="text-ink2 text-[13px]">{option.context}</span>
            {option.refusal && <span className="block text-[13px]">{option.refusal}</span>}
          </li>
        ))}
      </ul>
      {text.trim() !== '' && options.length === 0 && found.isSuccess && !found.isPlaceholderData && (
        <p className="text-ink2 px-2 py-1">Nothing fits “{text.trim()}”. Try another word for it, or fewer.</p>
      )}
      {found.isError && <p className="text-shut px-2 py-1">{found.error.message}</p>}
      {text.trim() === '' && props.empty}
    </div>
  );
}
