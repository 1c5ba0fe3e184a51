import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Hit, Problem, Setting } from '../api/client';
import { useCatalogue, usePolicy } from '../api/queries';
import { Finder, hitOption } from '../frame/Finder';
import { Trouble } from '../frame/Trouble';
import { count } from '../text/words';
import { HalfFamilies } from './HalfFamilies';
import { Publisher } from './Publisher';
import { Reaches } from './Reaches';
import { ForWhom } from './ForWhom';
import { StatementLine } from './StatementLine';
import {
  BLANK,
  addition,
  editsBetween,
  isOrdered,
  lineKey,
  refusals,
  sheetOf,
  type Fresh,
  type Line,
  type Planned,
  type Sheet,
} from './edits';

interface Props {
  id?: string;
  fresh?: Fresh;
  zone: string;
  /** The last change that the list knows; a new policy starts there. */
  change: number;
  onClose: () => void;
  onCopy: (sheet: Sheet, below: string) => void;
  onOpen: (policy: string | undefined) => void;
}

/** A policy opened as a sheet: what it says and whom it is for, and the tray from which edits are published. */
export function PolicySheet(props: Props) {
  const policy = usePolicy(props.id);
  if (props.id && policy.isError && !policy.data)
    return (
      <div className="flex-1">
        <Trouble error={policy.error} onRetry={() => void policy.refetch()} />
        <button className="button mx-8" onClick={props.onClose}>
          Close
        </button>
      </div>
    );
  if (props.id && !policy.data) return <p className="text-ink2 flex-1 p-6">Looking…</p>;
  const published = policy.data ? sheetOf(policy.data.policy) : BLANK;
  return (
    <Editor
      {...props}
      // Once somebody has published, the sheet starts again from what is there now; what was typed is kept beside it.
      published={published}
      base={policy.data?.change ?? props.change}
      names={policy.data?.names ?? {}}
      reaches={policy.data?.reaches}
    />
  );
}

/** What was typed and not published, kept for as long as the browser's tab lives. */
function useKept(
  key: string,
  start: Sheet,
  base: number,
): [{ sheet: Sheet; from: Sheet; base: number }, (sheet: Sheet) => void, () => void] {
  const [kept, setKept] = useState<{ sheet: Sheet; from: Sheet; base: number }>(() => {
    const text = sessionStorage.getItem(key);
    return text
      ? (JSON.parse(text) as { sheet: Sheet; from: Sheet; base: number })
      : { sheet: start, from: start, base };
  });
  const dirty = JSON.stringify(kept.sheet) !== JSON.stringify(kept.from);
  useEffect(() => {
    if (dirty) sessionStorage.setItem(key, JSON.stringify(kept));
    else sessionStorage.removeItem(key);
  }, [key, kept, dirty]);
  // An untouched sheet follows what is published; one with edits stays as it is until they are published or discarded.
  const current = dirty ? kept : { sheet: start, from: start, base };
  return [
    current,
    (sheet) => setKept({ ...current, sheet }),
    () => {
      sessionStorage.removeItem(key);
      setKept({ sheet: start, from: start, base });
    },
  ];
}

function Editor(props: Props & { published: Sheet; base: number; names: Record<string, string>; reaches?: number }) {
  const isNew = props.fresh !== undefined;
  const start = useMemo(() => props.published, [props.published]);
  const [kept, setSheet, reset] = useKept(
    isNew ? `draft new ${props.fresh?.below ?? ''}` : `draft ${props.id}`,
    isNew ? BLANK : start,
    props.base,
  );
  const [begun, setBegun] = useState(false);
  const sheet =
    isNew && !begun && JSON.stringify(kept.sheet) === JSON.stringify(BLANK)
      ? (props.fresh?.sheet ?? BLANK)
      : kept.sheet;
  const change = (next: Sheet) => {
    setBegun(true);
    setSheet(next);
  };
  const [doomed, setDoomed] = useState(false);
  const [names, setNames] = useState<Record<string, string>>({});
  const catalogue = useCatalogue();
  const settings = useMemo(() => new Map(catalogue.data?.settings.map((s) => [s.key, s])), [catalogue.data]);
  const planned: Planned[] = useMemo(() => {
    if (doomed && props.id) return [{ edit: { kind: 'remove-policy', policy: props.id }, about: 'policy' }];
    if (isNew) return JSON.stringify(sheet) === JSON.stringify(BLANK) ? [] : addition(sheet, props.fresh?.below);
    return editsBetween(kept.from, sheet);
  }, [doomed, isNew, sheet, kept.from, props.id, props.fresh]);
  const [problem, setProblem] = useState<Problem>();
  const told = useMemo(() => refusals(problem, planned, sheet), [problem, planned, sheet]);
  const onProblem = useCallback((p: Problem | undefined) => setProblem(p), []);
  const add = (hit: Hit) => {
    const setting = settings.get(hit.id);
    if (setting) change({ ...sheet, lines: [...sheet.lines, newLine(setting, sheet.lines)] });
  };
  const finish = () => {
    reset();
    setDoomed(false);
  };
  return (
    <section
      aria-label={isNew ? 'New policy' : `Policy ${sheet.name}`}
      className="relative flex min-h-0 min-w-0 flex-1 flex-col"
    >
      <div className="border-line flex items-center gap-2 border-b px-6 py-2.5">
        <span className="text-ink2 text-[13px]">
          {isNew
            ? props.fresh?.below
              ? 'A copy; it will stand directly below its original'
              : 'A new policy; it will stand last in the ranking'
            : doomed
              ? 'To be deleted'
              : props.reaches === undefined
                ? ''
                : sheet.paused
                  ? 'Paused, reaches nobody'
                  : `Reaches ${count(props.reaches, 'account')}`}
        </span>
        <span className="ml-auto flex gap-2">
          {!isNew && (
            <>
              <button
                className="button"
                onClick={() => props.onCopy({ ...sheet, id: undefined, name: `${sheet.name}, copy` }, props.id ?? '')}
              >
                Copy
              </button>
              <button className="button" onClick={() => change({ ...sheet, paused: !sheet.paused })}>
                {sheet.paused ? 'Resume' : 'Pause'}
              </button>
              <button className="button" onClick={() => setDoomed(true)} disabled={doomed}>
                Delete
              </button>
            </>
          )}
          <button className="button" onClick={props.onClose}>
            Close
          </button>
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 pt-4 pb-8">
        <label className="sr-only" htmlFor="policy-name">
          Name
        </label>
        <input
          id="policy-name"
          className="font-display hover:border-line2 focus:border-line2 -ml-2 w-full rounded-[3px] border border-transparent bg-transparent px-2 py-0.5 text-[20px] font-semibold"
          placeholder="Name it for what it does"
          value={sheet.name}
          autoFocus={isNew}
          aria-invalid={told.has('name')}
          aria-describedby={told.has('name') ? 'policy-name-refusal' : undefined}
          onChange={(e) => change({ ...sheet, name: e.target.value })}
        />
        {told.has('name') && (
          <p id="policy-name-refusal" role="alert" className="text-shut">
            The name {told.get('name')}.
          </p>
        )}
        <input
          className="text-ink2 hover:border-line2 focus:border-line2 -ml-2 w-full rounded-[3px] border border-transparent bg-transparent px-2 py-0.5"
          aria-label="Description"
          placeholder="Why it is there, in a sentence"
          value={sheet.description}
          onChange={(e) => change({ ...sheet, description: e.target.value })}
        />
        {told.has('') && (
          <p role="alert" className="text-shut mt-2">
            {told.get('')}
          </p>
        )}

        <h2 className="font-display mt-5 text-[16px] font-semibold">Says</h2>
        {sheet.lines.length === 0 && (
          <p className="text-ink2">Silent on everything so far. Find a setting below by any word for it.</p>
        )}
        <ul className="border-line mt-1 border-t empty:border-0" aria-label="Statements">
          {sheet.lines.map((line, i) => (
            <StatementLine
              key={lineKey(line)}
              line={line}
              setting={settings.get(line.setting)}
              app={catalogue.data?.apps.find((a) => a.id === settings.get(line.setting)?.app)?.name}
              refusal={told.get(lineKey(line))}
              both={sheet.lines.some((l, j) => j !== i && l.setting === line.setting)}
              onChange={(next) => change({ ...sheet, lines: sheet.lines.map((l, j) => (j === i ? next : l)) })}
              onRemove={() => change({ ...sheet, lines: sheet.lines.filter((_, j) => j !== i) })}
            />
          ))}
        </ul>
        <HalfFamilies
          families={catalogue.data?.families ?? []}
          lines={sheet.lines}
          settings={settings}
          onChange={(lines) => change({ ...sheet, lines })}
        />
        <div className="mt-2 max-w-md">
          <Finder
            label="Add a setting"
            placeholder="Add a setting: any word for it"
            kinds="setting"
            clearOnChoose
            options={(hits) =>
              hits.map((hit) =>
                hitOption(
                  hit,
                  () => add(hit),
                  sheet.lines.filter((l) => l.setting === hit.id).length >= (isOrdered(settings.get(hit.id)) ? 2 : 1)
                    ? 'The policy speaks on it already'
                    : undefined,
                ),
              )
            }
          />
        </div>

        <ForWhom
          assignments={sheet.assignments}
          names={{ ...props.names, ...names }}
          zone={props.zone}
          told={told}
          onName={(target, name) => setNames((n) => ({ ...n, [target]: name }))}
          onChange={(assignments) => change({ ...sheet, assignments })}
        />
        {props.id && !isNew && <Reaches policy={props.id} dirty={planned.length > 0} />}
      </div>
      {planned.length > 0 && (
        <Publisher
          key={kept.base}
          base={kept.base}
          planned={planned}
          title={sheet.name || 'A policy without a name'}
          zone={props.zone}
          onProblem={onProblem}
          onDiscard={() => {
            finish();
            if (isNew) props.onClose();
          }}
          onPublished={() => {
            finish();
            if (isNew || doomed) props.onOpen(undefined);
          }}
        />
      )}
    </section>
  );
}

function newLine(setting: Setting, lines: Line[]): Line {
  const isSet = lines.some((l) => l.setting === setting.key && l.says !== 'cap');
  const value = startValue(setting);
  return { setting: setting.key, says: isSet ? 'cap' : 'set', value };
}

/** What a new statement says at first: the other position of a switch, else the built-in value. */
function startValue(setting: Setting): unknown {
  const builtIn = setting.default;
  if (typeof builtIn === 'boolean') return !builtIn;
  if (builtIn !== null && typeof builtIn === 'object' && !Array.isArray(builtIn))
    return setting.type === 'switch'
      ? true
      : setting.type === 'choice'
        ? setting.options?.[0]
        : setting.type === 'number'
          ? setting.min
          : setting.type === 'list'
            ? []
            : '';
  return builtIn;
}
