import { useState } from 'react';
import { Select } from '../parts/Select';
import { count, formatNumber } from '../text/words';
import { GroupFrom } from './GroupFrom';
import type { Listed } from './columns';

export interface Filters {
  q?: string;
  active?: 'true' | 'false';
  purpose?: 'access' | 'mailing';
  sort?: 'name';
}

/** What a list is narrowed to, in words. */
export const narrowed = (filters: Filters): string[] =>
  [
    filters.q && `with “${filters.q}”`,
    filters.active === 'true' && 'that are active',
    filters.active === 'false' && 'that are deactivated',
    filters.purpose && `for ${filters.purpose}`,
  ].filter((words): words is string => Boolean(words));

/** The line above a list: its search and filters, how many there are, and what can be done with all of them. */
export function DirectoryFilters(props: {
  list: Listed;
  filters: Filters;
  /** Undefined until they are counted. */
  total?: number;
  /** Whether rows can be ticked. */
  ticks: boolean;
  /** Where the list can be had as a file. */
  file: string;
  onFilter: (filters: Filters) => void;
  onClear: () => void;
  onTickAll: () => void;
  /** The ids of all that are listed. */
  all: () => Promise<string[]>;
  onGroup: (group: string) => void;
}) {
  const { list, filters, total } = props;
  const [text, setText] = useState(filters.q ?? '');
  const said = narrowed(filters);
  const clear = () => {
    setText('');
    props.onClear();
  };
  return (
    <div className="flex flex-wrap items-center gap-3 px-5 pb-2">
      <input
        className="field w-64"
        aria-label={`Search the ${list.title.toLowerCase()}`}
        placeholder="Search"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          props.onFilter({ ...filters, q: e.target.value || undefined });
        }}
        onKeyDown={(e) => e.key === 'Escape' && clear()}
      />
      {props.ticks && (
        <Select
          label="Active or not"
          value={filters.active ?? ''}
          options={[
            { value: '', label: 'active or not' },
            { value: 'true', label: 'active' },
            { value: 'false', label: 'deactivated' },
          ]}
          onChange={(v) => props.onFilter({ ...filters, active: (v || undefined) as 'true' })}
        />
      )}
      {list.name === 'groups' && (
        <Select
          label="What for"
          value={filters.purpose ?? ''}
          options={[
            { value: '', label: 'for access or mail' },
            { value: 'access', label: 'for access' },
            { value: 'mailing', label: 'for mail' },
          ]}
          onChange={(v) => props.onFilter({ ...filters, purpose: (v || undefined) as 'access' })}
        />
      )}
      <span className="text-ink2 text-[13px]" role="status">
        {total === undefined ? 'Looking…' : count(total, list.one, list.many)}
        {said.length > 0 && ` ${said.join(' and ')}.`}{' '}
        {said.length > 0 && (
          <button className="quiet" onClick={clear}>
            Show all
          </button>
        )}
      </span>
      {props.ticks && total !== undefined && total > 0 && (
        <>
          <button className="quiet text-[13px]" onClick={props.onTickAll}>
            Tick all {formatNumber(total)}
          </button>
          {filters.q && (
            <GroupFrom
              label={`Make a group of these ${formatNumber(total)}`}
              accounts={props.all}
              onCreated={props.onGroup}
            />
          )}
        </>
      )}
      <a className="quiet ml-auto text-[13px]" href={props.file}>
        As CSV
      </a>
    </div>
  );
}
