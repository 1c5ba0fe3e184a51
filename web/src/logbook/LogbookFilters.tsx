import { useState } from 'react';
import { DateField } from '../parts/DateField';
import { EntityPicker } from '../parts/EntityPicker';
import { useCatalogue, type LogbookFilter } from '../parts/queries';
import { Select } from '../parts/Select';
import { formatWhen } from '../text/dates';
import { joinList } from '../text/words';

/** What changes can be about, beside an app; each is found by name. */
export const SUBJECTS = ['account', 'setting', 'policy', 'group', 'unit', 'plan', 'workspace', 'hosting'] as const;

const PARAMETERS = ['text', 'author', 'kind', 'app', 'from', 'to', ...SUBJECTS] as const;

const KINDS: Record<NonNullable<LogbookFilter['kind']>, string> = {
  policies: 'policies',
  catalogue: 'the catalogue',
  directory: 'people, units and groups',
  seats: 'licences',
  previews: 'previews',
  own_word: 'consents and feedback',
  automatic: 'what happened by itself',
};

const NOUNS: Record<(typeof SUBJECTS)[number], string> = {
  account: 'person',
  setting: 'setting',
  policy: 'policy',
  group: 'group',
  unit: 'unit',
  plan: 'licence plan',
  workspace: 'workspace',
  hosting: 'hosting',
};

/** The filter that an address holds. */
export function readFilter(search: string): LogbookFilter {
  const params = new URLSearchParams(search);
  const found: Record<string, string> = {};
  for (const name of PARAMETERS) {
    const value = params.get(name);
    if (value) found[name] = value;
  }
  return found;
}

/** Which changes are listed: by words, author, kind and period, and by what they are about. All of it stands in the address. */
export function LogbookFilters(props: {
  filter: LogbookFilter;
  authors: string[];
  /** What the filter asks about is called so, by its parameter. */
  names: Record<string, string>;
  zone: string;
  /** Whether there is little room: a press opens all but the words. */
  narrow: boolean;
  onFilter: (filter: LogbookFilter) => void;
}) {
  const { filter, names, zone } = props;
  const [text, setText] = useState(filter.text ?? '');
  const [open, setOpen] = useState(false);
  const whole = open || !props.narrow;
  const catalogue = useCatalogue();
  const put = (more: LogbookFilter) => props.onFilter({ ...filter, ...more });
  const authors = [...new Set([...props.authors, ...(filter.author ? [filter.author] : [])])].sort();
  const about = SUBJECTS.filter((subject) => filter[subject] !== undefined);
  const app = catalogue.data?.apps.find((a) => a.id === filter.app)?.name;
  const said = [
    filter.text ? `hold “${filter.text}”` : '',
    filter.author ? `are by ${filter.author}` : '',
    filter.kind ? `are about ${KINDS[filter.kind]}` : '',
    app ? `are about ${app}` : '',
    ...about.map((subject) =>
      subject === 'account'
        ? `name or affect ${names[subject] ?? `a ${NOUNS[subject]} that exists no longer`}`
        : `are about ${names[subject] ?? `a ${NOUNS[subject]} that exists no longer`}`,
    ),
    filter.from ? `came after ${formatWhen(filter.from, zone)}` : '',
    filter.to ? `came by ${formatWhen(filter.to, zone)}` : '',
  ].filter(Boolean);
  return (
    <div role="search" aria-label="Find changes" className="flex flex-wrap items-start gap-2 text-[13px]">
      <input
        className="field w-44"
        aria-label="Words in the changes"
        placeholder="Words: guests, Deck plan…"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          put({ text: e.target.value || undefined });
        }}
      />
      {!whole && (
        <button className="button" aria-expanded={false} onClick={() => setOpen(true)}>
          More
        </button>
      )}
      {whole && (
        <>
          <Select
            label="Author"
            className="w-36"
            value={filter.author ?? ''}
            options={[{ value: '', label: 'by anybody' }, ...authors.map((a) => ({ value: a, label: a }))]}
            onChange={(author) => put({ author: author || undefined })}
          />
          <Select
            label="Kind of change"
            className="w-44"
            value={filter.kind ?? ''}
            options={[
              { value: '', label: 'of any kind' },
              ...Object.entries(KINDS).map(([value, label]) => ({ value, label })),
            ]}
            onChange={(kind) => put({ kind: (kind || undefined) as LogbookFilter['kind'] })}
          />
          <div className="w-56">
            <EntityPicker
              label="About or affecting"
              placeholder="About: a person, setting, policy…"
              kinds={SUBJECTS.join(',')}
              onPick={(hit) => put({ [hit.kind]: hit.id })}
            />
          </div>
          <span className="text-ink2 leading-8">after</span>
          <DateField
            label="After the end of"
            zone={zone}
            of="day"
            side="past"
            value={filter.from}
            onChange={(from) => put({ from })}
          />
          <span className="text-ink2 leading-8">until</span>
          <DateField
            label="Until the end of"
            zone={zone}
            of="day"
            side="past"
            value={filter.to}
            onChange={(to) => put({ to })}
          />
        </>
      )}
      {said.length > 0 && (
        <p className="text-ink2 w-full">
          Only those that {joinList(said)}.{' '}
          <button
            className="quiet"
            onClick={() => {
              setText('');
              props.onFilter({});
            }}
          >
            Show all
          </button>
        </p>
      )}
    </div>
  );
}
