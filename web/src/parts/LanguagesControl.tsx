import { languageName } from '../text/languages';
import { useState } from 'react';

const ANY = '*';

/** A text in several languages: one for every language that is not named, and as many others as are wanted. */
export function LanguagesControl(props: {
  title: string;
  value: unknown;
  refused: boolean;
  onChange: (value: unknown) => void;
}) {
  const { title } = props;
  const [tag, setTag] = useState('');
  const texts = typeof props.value === 'object' && props.value !== null ? (props.value as Record<string, string>) : {};
  const tags = [ANY, ...Object.keys(texts).filter((t) => t !== ANY)];
  const put = (of: string, text: string) => props.onChange({ [ANY]: '', ...texts, [of]: text });
  const remove = (of: string) => props.onChange(Object.fromEntries(Object.entries(texts).filter(([t]) => t !== of)));
  const known = tags.some((t) => t.toLowerCase() === tag.trim().toLowerCase());
  return (
    <div className="grid w-72 gap-1" role="group" aria-label={`Value of ${title}`}>
      {tags.map((of) => (
        <label key={of} className="grid grid-cols-[1fr_auto] gap-x-2">
          <span className="text-ink2 text-[13px]">{of === ANY ? 'Every other language' : languageName(of)}</span>
          {of !== ANY ? (
            <button type="button" className="quiet text-[13px]" onClick={() => remove(of)}>
              Remove
            </button>
          ) : (
            <span />
          )}
          <textarea
            className="field col-span-2 h-auto w-full py-1"
            rows={2}
            aria-invalid={props.refused}
            value={texts[of] ?? ''}
            onChange={(e) => put(of, e.target.value)}
          />
        </label>
      ))}
      <span className="flex gap-2">
        <input
          className="field w-28"
          aria-label="Language to add, as a tag"
          placeholder="pt, de-CH"
          value={tag}
          onChange={(e) => setTag(e.target.value)}
        />
        <button
          type="button"
          className="button"
          disabled={tag.trim() === '' || known}
          onClick={() => {
            put(tag.trim(), '');
            setTag('');
          }}
        >
          Add a language
        </button>
      </span>
    </div>
  );
}
