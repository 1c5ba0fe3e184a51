import type { Setting } from '../api/client';
import { LanguagesControl } from './LanguagesControl';
import { PeopleControl } from './PeopleControl';
import { PictureControl } from './PictureControl';
import { Select } from './Select';

/** The control that fits the type of a setting. */
export function ValueControl(props: {
  setting?: Setting;
  title: string;
  value: unknown;
  refused: boolean;
  onChange: (value: unknown) => void;
}) {
  const { setting, title, value, refused, onChange } = props;
  const common = { 'aria-label': `Value of ${title}`, 'aria-invalid': refused };
  const choice = { label: common['aria-label'], invalid: refused, className: 'w-60', placeholder: 'choose…' };
  switch (setting?.type) {
    case 'switch':
      return (
        <Select
          {...choice}
          value={typeof value === 'boolean' ? String(value) : ''}
          options={[
            { value: 'true', label: 'On' },
            { value: 'false', label: 'Off' },
          ]}
          onChange={(v) => onChange(v === 'true')}
        />
      );
    case 'choice':
      return (
        <Select
          {...choice}
          value={typed(value)}
          options={(setting.options ?? []).map((option) => ({ value: option, label: option.replaceAll('-', ' ') }))}
          onChange={onChange}
        />
      );
    case 'number':
      return (
        <span className="flex w-60 items-center gap-2">
          <input
            {...common}
            className="field w-24 text-right"
            inputMode="numeric"
            value={typed(value)}
            onChange={(e) => onChange(numberOr(e.target.value))}
          />
          <span className="text-ink2 text-[13px]">
            {setting.unit ?? ''} {setting.min} to {setting.max?.toLocaleString('en-GB')}
          </span>
        </span>
      );
    case 'list':
      return (
        <textarea
          {...common}
          className="field h-auto w-60 py-1"
          rows={Math.min(8, Math.max(2, (Array.isArray(value) ? value.length : 1) + 1))}
          placeholder="one a line"
          value={Array.isArray(value) ? value.join('\n') : typed(value)}
          onChange={(e) => onChange(e.target.value === '' ? [] : e.target.value.split('\n'))}
          onBlur={() => Array.isArray(value) && onChange(value.map((v) => String(v).trim()).filter((v) => v !== ''))}
        />
      );
    case 'people':
      return <PeopleControl title={title} value={value} onChange={onChange} />;
    case 'picture':
      return <PictureControl title={title} value={value} onChange={onChange} />;
    default:
      if (setting?.byLanguage)
        return <LanguagesControl title={title} value={value} refused={refused} onChange={onChange} />;
      return (
        <input {...common} className="field w-60" value={typed(value)} onChange={(e) => onChange(e.target.value)} />
      );
  }
}

/** A value as a field shows it. */
const typed = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

/** A whole number where one was typed; else the text itself, which the server refuses with the reason. */
export function numberOr(text: string): unknown {
  const trimmed = text.trim();
  return /^-?\d+$/.test(trimmed) && Number.isSafeInteger(Number(trimmed)) ? Number(trimmed) : text;
}
