import { DateField } from './DateField';

interface Window {
  from?: string;
  until?: string;
}

/** From when, and until when, something counts; each end may be left open. */
export function WindowFields<T extends Window>(props: {
  /** What counts, for the names of the fields. */
  of: string;
  zone: string;
  value: T;
  onChange: (next: T) => void;
}) {
  const set = (end: 'from' | 'until', instant: string | undefined) => {
    const next = { ...props.value };
    if (instant) next[end] = instant;
    else delete next[end];
    props.onChange(next);
  };
  return (
    <div className="flex flex-wrap gap-3 py-1">
      {(['from', 'until'] as const).map((end) => (
        <span key={end} className="flex items-start gap-2 text-[13px]">
          <span className="leading-8">{end}</span>
          <DateField
            label={`${props.of} counts ${end}`}
            zone={props.zone}
            of="instant"
            until={end === 'until'}
            value={props.value[end]}
            onChange={(instant) => set(end, instant)}
          />
        </span>
      ))}
    </div>
  );
}
