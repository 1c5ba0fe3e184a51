import { useState, type ReactNode } from 'react';
import type { Assignment, Hit } from '../api/client';
import { SearchBox, hitOption, type Option } from '../parts/SearchBox';
import { WindowFields } from '../parts/WindowFields';
import { formatWindow } from '../text/dates';
import { targetOf } from './policyDiff';
import { Alert } from '../parts/Alert';

const KINDS: Record<string, string> = {
  unit: 'unit and all below it',
  group: 'group',
  account: 'by name',
  workspace: 'whoever works there',
  hosting: 'whoever works on it',
  organisation: 'everyone',
};

/** Whom a policy is for and whom not: targets as tokens, each with an optional window. */
export function AssignmentEditor(props: {
  assignments: Assignment[];
  names: Record<string, string>;
  zone: string;
  told: Map<string, string>;
  onName: (target: string, name: string) => void;
  onChange: (assignments: Assignment[]) => void;
  /** Makes an access group that holds a mailing group, and aims at it. */
  onHold: (mailing: Hit) => void;
}) {
  const { assignments, onChange } = props;
  const side = (include: boolean) => assignments.filter((a) => (a.include !== undefined) === include);
  const add = (include: boolean, target: string, name: string) => {
    props.onName(target, name);
    onChange([...assignments, include ? { include: target } : { except: target }]);
  };
  const token = (assignment: Assignment) => (
    <Token
      key={JSON.stringify(assignment)}
      assignment={assignment}
      name={nameOf(assignment, props.names)}
      names={props.names}
      zone={props.zone}
      onName={props.onName}
      refusal={props.told.get(targetOf(assignment))}
      onChange={(next) => onChange(assignments.map((a) => (a === assignment ? next : a)))}
      onRemove={() => onChange(assignments.filter((a) => a !== assignment))}
    />
  );
  return (
    <>
      <div className="mt-6 flex items-baseline gap-3">
        <h2 className="font-display text-[16px] font-semibold">Applies to</h2>
        {assignments.length > 1 && (
          <button className="quiet ml-auto text-[13px]" onClick={() => onChange([])}>
            Remove all {assignments.length}
          </button>
        )}
      </div>
      {assignments.length === 0 && (
        <p className="text-ink2">Nobody yet. Name a unit, a group, people, a workspace, or everyone.</p>
      )}
      {([true, false] as const).map((include) => (
        <div key={String(include)} className="mt-1">
          <h3 className="text-ink2 text-[13px]">{include ? 'Included' : 'Except'}</h3>
          <ul className="border-line border-t empty:border-0" aria-label={include ? 'Included' : 'Excepted'}>
            {gather(side(include), props.names).map((together) =>
              together.length < TOGETHER ? (
                together.map(token)
              ) : (
                <Alike
                  key={targetOf(together[0] as Assignment)}
                  names={together.map((a) => nameOf(a, props.names))}
                  window={formatWindow(together[0] as Assignment, props.zone)}
                  onRemove={() => onChange(assignments.filter((a) => !together.includes(a)))}
                >
                  {together.map(token)}
                </Alike>
              ),
            )}
          </ul>
          <div className="mt-1 max-w-md">
            <SearchBox
              label={include ? 'Include' : 'Except'}
              placeholder={
                include
                  ? 'Include: a unit, group, person, workspace, hosting, everyone'
                  : 'Except: a unit, group or person'
              }
              kinds={include ? 'unit,group,account,workspace,hosting' : 'unit,group,account'}
              clearOnChoose
              options={(hits, _readings, text) => [
                ...everyone(include, text, () => add(true, 'organisation', 'Everyone')),
                ...hits.flatMap((hit) => [
                  option(hit, include, assignments, () => add(include, `${hit.kind}:${hit.id}`, unitPath(hit))),
                  ...instead(hit, (id, name) => add(include, `group:${id}`, name), props.onHold),
                ]),
              ]}
            />
          </div>
        </div>
      ))}
    </>
  );
}

/** So many units of one name stand in one line. */
const TOGETHER = 3;

const nameOf = (assignment: Assignment, names: Record<string, string>) =>
  names[targetOf(assignment)] ?? targetOf(assignment).replace(/^[a-z]+:/, '');

/** Assignments in their order, with units of one name and one window together at the place of the first. */
export function gather(assignments: Assignment[], names: Record<string, string>): Assignment[][] {
  const found = new Map<string, Assignment[]>();
  for (const assignment of assignments) {
    const target = targetOf(assignment);
    const last = nameOf(assignment, names).split(' › ').at(-1) ?? '';
    const key = target.startsWith('unit:')
      ? `unit ${last} ${assignment.in ?? ''} ${assignment.from ?? ''} ${assignment.until ?? ''}`
      : JSON.stringify(assignment);
    found.set(key, [...(found.get(key) ?? []), assignment]);
  }
  return [...found.values()].flatMap((together) =>
    together.length < TOGETHER ? together.map((one) => [one]) : [together],
  );
}

/** Units of one name as one line that unfolds: "Bridge in 9 units". */
function Alike(props: { names: string[]; window: string; onRemove: () => void; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  const name = `${props.names[0]?.split(' › ').at(-1) ?? ''} in ${props.names.length} units`;
  const above = props.names.map((n) => n.split(' › ').slice(0, -1).join(' › '));
  return (
    <li className="border-line border-b py-1">
      <div className="flex min-h-7 items-center gap-x-3">
        <button className="font-semibold" aria-expanded={open} onClick={() => setOpen(!open)}>
          {name}
        </button>
        <span className="text-ink2 min-w-0 flex-1 truncate text-[13px]" title={above.join(', ')}>
          {above.join(', ')}
        </span>
        <button className="quiet text-[13px]" onClick={() => setOpen(!open)}>
          {open ? 'Fold' : props.window || 'One by one'}
        </button>
        <button className="text-ink2 hover:text-ink px-1" aria-label={`Remove ${name}`} onClick={props.onRemove}>
          <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
            <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.8" />
          </svg>
        </button>
      </div>
      {open && <ul className="border-line ml-5 border-t">{props.children}</ul>}
    </li>
  );
}

/** The same without its place. */
function everywhere(assignment: Assignment): Assignment {
  const { in: place, ...rest } = assignment;
  return place === undefined ? assignment : rest;
}

function everyone(include: boolean, text: string, choose: () => void): Option[] {
  const asked = text.trim().toLowerCase();
  if (!include || asked.length < 2 || !'everyone the whole organisation'.includes(asked)) return [];
  return [{ key: 'organisation', title: 'Everyone', context: 'the whole organisation', choose }];
}

/** A unit is told with what is above it. */
const unitPath = (hit: Hit) =>
  hit.kind === 'unit' && hit.context !== 'the whole organisation' && hit.context !== ''
    ? `${hit.context} › ${hit.title}`
    : hit.title;

/** The way out where a mailing group was found: an access group that holds it, or a new one. */
function instead(hit: Hit, choose: (id: string, name: string) => void, hold: (mailing: Hit) => void): Option[] {
  if (!hit.heldBy) return [];
  const held = hit.heldBy.map((g) => ({
    key: `instead ${g.id}`,
    title: g.name,
    context: `access group that holds ${hit.title}`,
    choose: () => choose(g.id, g.name),
  }));
  if (held.length > 0) return held;
  return [
    {
      key: `hold ${hit.id}`,
      title: `A new access group that holds ${hit.title}`,
      context: 'made in the draft',
      choose: () => hold(hit),
    },
  ];
}

function option(hit: Hit, include: boolean, assignments: Assignment[], choose: () => void): Option {
  const target = `${hit.kind}:${hit.id}`;
  const there = assignments.some((a) => (include ? a.include : a.except) === target && !a.in);
  const refusal = there
    ? 'Already here'
    : hit.context === 'mailing group'
      ? 'A mailing group cannot be aimed at; an access group that has it as a member can'
      : hit.kind === 'unit' && !include && hit.context === 'the whole organisation'
        ? 'The whole organisation cannot be excepted; pause the policy instead'
        : undefined;
  return hitOption(hit, choose, refusal);
}

function Token(props: {
  assignment: Assignment;
  name: string;
  names: Record<string, string>;
  zone: string;
  onName: (target: string, name: string) => void;
  refusal?: string;
  onChange: (assignment: Assignment) => void;
  onRemove: () => void;
}) {
  const { assignment, zone } = props;
  const [windowOpen, setWindowOpen] = useState(false);
  const [placing, setPlacing] = useState(false);
  const kind = targetOf(assignment).split(':')[0] ?? '';
  const told = formatWindow(assignment, zone);
  return (
    <li className="border-line border-b py-1">
      <div className="flex min-h-7 flex-wrap items-center gap-x-3">
        <span className="font-semibold">{props.name}</span>
        <span className="text-ink2 text-[13px]">{KINDS[kind]}</span>
        {assignment.in ? (
          <span className="flex items-center gap-1 text-[13px]">
            {assignment.in.startsWith('hosting:') ? 'on' : 'in'}{' '}
            <strong>{props.names[assignment.in] ?? assignment.in}</strong>
            <button
              className="quiet"
              aria-label={`${props.name}: everywhere`}
              onClick={() => props.onChange(everywhere(assignment))}
            >
              Everywhere instead
            </button>
          </span>
        ) : (
          assignment.include !== undefined &&
          kind !== 'workspace' &&
          kind !== 'hosting' && (
            <button className="quiet text-[13px]" aria-expanded={placing} onClick={() => setPlacing(!placing)}>
              Only in a place…
            </button>
          )
        )}
        <button
          className="quiet ml-auto text-[13px]"
          aria-expanded={windowOpen}
          onClick={() => setWindowOpen(!windowOpen)}
        >
          {told || 'always'}
        </button>
        <button className="text-ink2 hover:text-ink px-1" aria-label={`Remove ${props.name}`} onClick={props.onRemove}>
          <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
            <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.8" />
          </svg>
        </button>
      </div>
      {placing && (
        <div className="max-w-md py-1">
          <SearchBox
            label={`Where ${props.name} is meant`}
            placeholder="A workspace, or a hosting with all workspaces on it"
            kinds="workspace,hosting"
            clearOnChoose
            autoFocus
            options={(hits) =>
              hits.map((hit) =>
                hitOption(hit, () => {
                  props.onName(`${hit.kind}:${hit.id}`, hit.title);
                  props.onChange({ ...assignment, in: `${hit.kind}:${hit.id}` });
                  setPlacing(false);
                }),
              )
            }
          />
        </div>
      )}
      {windowOpen && <WindowFields of={props.name} zone={zone} value={assignment} onChange={props.onChange} />}
      {props.refusal && (
        <Alert>
          {props.name} {props.refusal}.
        </Alert>
      )}
    </li>
  );
}
