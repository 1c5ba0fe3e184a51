import { clsx } from 'clsx';
import { useState } from 'react';
import type { Edit, PlanView } from '../api/client';
import { SearchBox, hitOption } from '../parts/SearchBox';
import { SortableList, useRow } from '../parts/SortableList';
import { WindowFields } from '../parts/WindowFields';
import { formatWindow } from '../text/dates';
import { count, joinList } from '../text/words';
import { PlanFile } from './PlanFile';
import { Select } from '../parts/Select';

type Rule = PlanView['rules'][number];

/** The rules of a plan in their order: who claims first. Moved by mouse, keys or buttons, given a window, taken away, added at the end, read from a file. */
export function Rules(props: {
  plan: string;
  rules: PlanView['rules'];
  components: PlanView['plan']['components'];
  zone: string;
  onEdit: (edits: Edit[]) => void;
}) {
  const { plan, rules } = props;
  const [reading, setReading] = useState(false);
  /** Puts a rule at a place among the others. */
  const move = (at: number, to: number) => {
    const others = rules.filter((_, i) => i !== at);
    props.onEdit([
      { kind: 'rank-rule', plan, rule: rules[at]?.written as never, above: (others[to]?.written ?? null) as never },
    ]);
  };
  /** Has a rule read otherwise, at the place where it stands. */
  const alter = (at: number, written: Record<string, unknown>) => {
    const edits: Edit[] = [
      { kind: 'remove-rule', plan, rule: rules[at]?.written as never },
      { kind: 'put-rule', plan, rule: written, above: (rules[at + 1]?.written ?? null) as never },
    ];
    props.onEdit([{ kind: 'batch', edits }]);
  };
  const ids = rules.map((r) => JSON.stringify(r.written));
  return (
    <section aria-label="Rules">
      <h2 className="font-display mt-6 flex items-baseline gap-4 text-[16px] font-semibold">
        For whom
        <span className="ml-auto flex gap-4 text-[13px] font-normal">
          <button className="quiet" aria-expanded={reading} onClick={() => setReading(!reading)}>
            From a file
          </button>
          <a className="quiet" href={`/api/v1/plans/${encodeURIComponent(plan)}/rules?format=csv`}>
            As CSV
          </a>
        </span>
      </h2>
      {reading && <PlanFile plan={plan} what="rules" onClose={() => setReading(false)} />}
      {rules.length === 0 ? (
        <p className="text-ink2">No rule yet, so nobody has a seat. Name a unit, a group, people, or everyone.</p>
      ) : (
        <p className="text-ink2 text-[13px]">
          Who is named by the first rule claims first, then by the next; those named outright go before all.
        </p>
      )}
      <SortableList
        label="Rules in their order"
        className="border-line mt-1 border-t empty:border-0"
        ids={ids}
        onMove={(id, onto) => move(ids.indexOf(id), ids.indexOf(onto))}
      >
        {rules.map((rule, i) => (
          <RuleRow
            key={ids[i]}
            id={ids[i] ?? ''}
            rule={rule}
            place={i}
            last={rules.length - 1}
            components={props.components}
            zone={props.zone}
            onMove={(to) => move(i, to)}
            onAlter={(written) => alter(i, written)}
            onRemove={() => props.onEdit([{ kind: 'remove-rule', plan, rule: rule.written as never }])}
          />
        ))}
      </SortableList>
      <div className="mt-2 grid max-w-3xl gap-3 sm:grid-cols-2">
        {([true, false] as const).map((include) => (
          <SearchBox
            key={String(include)}
            label={include ? 'Include in the plan' : 'Except from the plan'}
            placeholder={include ? 'Include: a unit, group, person, everyone' : 'Except: a unit, group or person'}
            kinds={include ? 'everyone,unit,group,account' : 'unit,group,account'}
            clearOnChoose
            options={(hits) =>
              hits.map((hit) => {
                const target = hit.kind === 'everyone' ? 'organisation' : `${hit.kind}:${hit.id}`;
                const mailing = hit.context === 'mailing group';
                const there = rules.some((r) => r.include === include && r.target === target);
                return hitOption(
                  hit,
                  () =>
                    props.onEdit([
                      { kind: 'put-rule', plan, rule: include ? { include: target } : { except: target } },
                    ]),
                  there
                    ? 'The plan has this rule'
                    : mailing
                      ? 'A mailing group cannot be named; take an access group that holds it'
                      : undefined,
                );
              })
            }
          />
        ))}
      </div>
    </section>
  );
}

/** One rule as a sentence, with what it brings in; held by its number. */
function RuleRow(props: {
  id: string;
  rule: Rule;
  place: number;
  last: number;
  components: PlanView['plan']['components'];
  zone: string;
  onMove: (to: number) => void;
  onAlter: (written: Record<string, unknown>) => void;
  onRemove: () => void;
}) {
  const { rule, place, zone } = props;
  const { row, handle, dragging } = useRow(props.id);
  const written = rule.written as Record<string, unknown> & { from?: string; until?: string };
  const [typed, setTyped] = useState<typeof written>();
  const leave = (id: string) => {
    const before = rule.off.map((o) => o.id);
    const off = before.includes(id) ? before.filter((o) => o !== id) : [...before, id];
    const next: Record<string, unknown> = { ...written, off };
    if (off.length === 0) delete next.off;
    props.onAlter(next);
  };
  return (
    <li {...row} className={clsx('border-line relative border-b py-1', dragging && 'bg-well z-10')}>
      <div className="flex flex-wrap items-center gap-x-3">
        <button
          {...handle}
          aria-label={`Move the rule for ${rule.whom} by mouse or keys`}
          className="text-ink2 hover:text-ink w-7 shrink-0 cursor-grab touch-none py-1 text-right"
        >
          {place + 1}
        </button>
        <span className="min-w-0 flex-1">
          {rule.include ? '' : <em className="text-shut not-italic">except </em>}
          <strong className="font-semibold">{rule.whom}</strong>
          {rule.off.length > 0 && <> without {joinList(rule.off.map((o) => o.name))}</>}{' '}
          <button
            className="quiet text-ink2"
            aria-expanded={typed !== undefined}
            onClick={() => setTyped(typed ? undefined : written)}
          >
            {formatWindow(rule, zone) || 'always'}
          </button>
          {!rule.holds && <span className="text-ink2"> · not now</span>}
        </span>
        <span className={rule.accounts === 0 ? 'text-shut text-[13px]' : 'text-ink2 text-[13px]'}>
          {rule.include
            ? rule.accounts === 0
              ? 'brings in nobody'
              : `brings in ${count(rule.accounts, 'account')}`
            : `keeps out ${count(rule.accounts, 'account')}`}
        </span>
        {rule.overruled.map((words) => (
          <span key={words} className="text-shut order-last w-full pl-10 text-[13px]">
            {words}. Leave it out there too, or for single people in the Directory.
          </span>
        ))}
        {rule.include && props.components.length > 1 && (
          <Select
            label={`Components for ${rule.whom}`}
            className="h-7 text-[13px]"
            value=""
            placeholder="Components"
            options={props.components.map((c) => ({
              value: c.id,
              label: rule.off.some((o) => o.id === c.id) ? `Put back ${c.name}` : `Leave out ${c.name}`,
            }))}
            onChange={leave}
          />
        )}
        <span className="flex">
          <button
            className="button h-7 px-2"
            disabled={place === 0}
            aria-label={`Move ${rule.whom} up`}
            onClick={() => props.onMove(place - 1)}
          >
            ↑
          </button>
          <button
            className="button -ml-px h-7 px-2"
            disabled={place === props.last}
            aria-label={`Move ${rule.whom} down`}
            onClick={() => props.onMove(place + 1)}
          >
            ↓
          </button>
          <button
            className="button -ml-px h-7 px-2"
            aria-label={`Take the rule for ${rule.whom} away`}
            onClick={props.onRemove}
          >
            ×
          </button>
        </span>
      </div>
      {typed && (
        <div className="flex flex-wrap items-start gap-3 pl-10">
          <WindowFields of={rule.whom} zone={zone} value={typed} onChange={setTyped} />
          <button
            className="button mt-1"
            disabled={typed.from === written.from && typed.until === written.until}
            onClick={() => props.onAlter(typed)}
          >
            Set
          </button>
        </div>
      )}
    </li>
  );
}
