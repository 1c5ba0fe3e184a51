import type { Assignment, Edit, Policy, Problem, Setting, Statement } from '../api/client';

/** How a statement speaks. */
export type StatementDraft = 'set' | 'lock' | 'cap';

/** A statement as it stands in the sheet; the value is what was typed, fitting or not. */
export interface Line {
  setting: string;
  says: StatementDraft;
  value: unknown;
}

/** A policy as it stands in the sheet. */
export interface PolicyForm {
  id?: string;
  name: string;
  description: string;
  paused: boolean;
  /** Who looks after it, in any words. */
  owner: string;
  /** The day by which somebody looks at it again; empty for none. */
  review: string;
  lines: Line[];
  assignments: Assignment[];
}

/** An edit together with the line of the sheet that it comes from, so that a refusal can be shown there. */
export interface Planned {
  edit: Edit;
  about: string;
}

/** Whether a setting can be capped. */
export function isOrdered(setting: Setting | undefined): boolean {
  return setting?.cappable === true;
}

/** A sheet with nothing on it. */
export const BLANK: PolicyForm = {
  name: '',
  description: '',
  paused: false,
  owner: '',
  review: '',
  lines: [],
  assignments: [],
};

/** What a line is known by: a policy may set and cap one setting, each once. */
export const lineKey = (line: Pick<Line, 'setting' | 'says'>): string =>
  `${line.says === 'cap' ? 'cap' : 'set'} ${line.setting}`;

/** The sheet of a policy. */
export function formOf(policy: Policy): PolicyForm {
  return {
    id: policy.id,
    name: policy.name,
    description: policy.description ?? '',
    paused: policy.state === 'paused',
    owner: policy.owner ?? '',
    review: policy.review ?? '',
    lines: (policy.statements ?? []).map((s) => ({
      setting: s.setting,
      says: 'cap' in s ? 'cap' : s.lock ? 'lock' : 'set',
      value: 'cap' in s ? s.cap : s.set,
    })),
    assignments: policy.assignments ?? [],
  };
}

function statement(line: Line): Statement {
  if (line.says === 'cap') return { setting: line.setting, cap: line.value };
  return line.says === 'lock'
    ? { setting: line.setting, set: line.value, lock: true }
    : { setting: line.setting, set: line.value };
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The edits that turn one sheet into another, in an order in which they can be carried out. */
export function editsBetween(before: PolicyForm, after: PolicyForm): Planned[] {
  const policy = before.id ?? '';
  const planned: Planned[] = [];
  const members: Record<string, unknown> = {};
  if (before.name !== after.name) members['name'] = after.name;
  for (const name of ['description', 'owner', 'review'] as const)
    if (before[name] !== after[name]) members[name] = after[name] === '' ? null : after[name];
  if (before.paused !== after.paused) members['state'] = after.paused ? 'paused' : 'live';
  for (const [name, value] of Object.entries(members))
    planned.push({ edit: { kind: 'amend-policy', policy, members: { [name]: value } }, about: name });
  const kept = new Set(after.lines.map(lineKey));
  for (const line of before.lines)
    if (!kept.has(lineKey(line)))
      planned.push({
        edit: { kind: 'remove-statement', policy, setting: line.setting, says: line.says === 'cap' ? 'cap' : 'set' },
        about: lineKey(line),
      });
  for (const line of after.lines) {
    const was = before.lines.find((l) => lineKey(l) === lineKey(line));
    if (!was || !same(statement(was), statement(line)))
      planned.push({ edit: { kind: 'put-statement', policy, statement: statement(line) }, about: lineKey(line) });
  }
  const cleared = after.assignments.length === 0 && before.assignments.length > 1;
  if (cleared) planned.push({ edit: { kind: 'clear-assignments', policy }, about: 'for' });
  for (const assignment of cleared ? [] : before.assignments)
    if (!after.assignments.some((a) => same(a, assignment)))
      planned.push({ edit: { kind: 'remove-assignment', policy, assignment }, about: 'for' });
  for (const assignment of after.assignments)
    if (!before.assignments.some((a) => same(a, assignment)))
      planned.push({ edit: { kind: 'put-assignment', policy, assignment }, about: targetOf(assignment) });
  return planned;
}

/** The edit that makes a new policy of a sheet, directly below another where it is a copy. */
export function addition(sheet: PolicyForm, below?: string): Planned[] {
  const policy: Policy = {
    name: sheet.name,
    ...(sheet.description === '' ? {} : { description: sheet.description }),
    ...(sheet.owner === '' ? {} : { owner: sheet.owner }),
    ...(sheet.review === '' ? {} : { review: sheet.review }),
    ...(sheet.paused ? { state: 'paused' as const } : {}),
    statements: sheet.lines.map(statement),
    assignments: sheet.assignments,
  };
  return [{ edit: { kind: 'add-policy', policy, below: below ?? null }, about: 'policy' }];
}

/** Whom an assignment names. */
export const targetOf = (assignment: Assignment): string => assignment.include ?? assignment.except ?? '';

/** What a refusal says about each part of a sheet; what belongs to no part stands under ''. */
export function refusals(problem: Problem | undefined, planned: Planned[], sheet: PolicyForm): Map<string, string> {
  const told = new Map<string, string>();
  for (const defect of problem?.defects ?? []) {
    const [, , index, ...rest] = defect.pointer.split('/');
    const plan = planned[Number(index)];
    let about = plan?.about ?? '';
    if (about === 'policy') {
      const [, part, at] = rest;
      const line = part === 'statements' ? sheet.lines[Number(at)] : undefined;
      const assignment = part === 'assignments' ? sheet.assignments[Number(at)] : undefined;
      about = line ? lineKey(line) : assignment ? targetOf(assignment) : (part ?? '');
    }
    const before = told.get(about);
    told.set(about, before ? `${before}; ${defect.message}` : defect.message);
  }
  return told;
}
