import { Link } from 'react-router';
import type { Schemas, Setting } from '../api/client';
import { writeQuestion, type Who } from '../question/question';
import { isOrdered, type Line, type StatementDraft } from './policyDiff';
import { ValueControl } from '../parts/ValueControl';
import { formatNumber } from '../text/words';
import { Select } from '../parts/Select';
import { Alert } from '../parts/Alert';

/** One statement: silent, set, locked or capped, with the control that fits the setting's type. */
export function StatementLine(props: {
  line: Line;
  setting?: Setting;
  app?: string;
  refusal?: string;
  /** What it comes to for those whom the policy reaches. */
  does?: Did;
  reached?: number;
  /** Whether the policy both sets and caps this setting, so that neither can become the other. */
  both: boolean;
  /** Whether the policy includes workspaces. */
  inWorkspaces: boolean;
  /** Whom the policy is for, where that is one unit, group or person; else everyone. */
  audience: Who;
  onChange: (line: Line) => void;
  onRemove: () => void;
}) {
  const { line, setting } = props;
  const title = setting?.title ?? line.setting;
  const speak = (says: StatementDraft | 'silent') =>
    says === 'silent' ? props.onRemove() : props.onChange({ ...line, says });
  return (
    <li className="border-line border-b py-1.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span className="min-w-40 flex-1" title={setting?.help}>
          <span className="font-semibold">{title}</span> <span className="text-ink2 text-[13px]">{props.app}</span>
        </span>
        <Select
          label={`How it sets ${title}`}
          className="w-32 shrink-0"
          value={line.says}
          options={[
            { value: 'silent', label: 'not set' },
            ...(!(props.both && line.says === 'cap') ? [{ value: 'set', label: 'set to' }] : []),
            ...(!(props.both && line.says === 'cap') ? [{ value: 'lock', label: 'locked to' }] : []),
            ...(isOrdered(setting) && !(props.both && line.says !== 'cap') ? [{ value: 'cap', label: 'at most' }] : []),
          ]}
          onChange={(v) => speak(v as StatementDraft | 'silent')}
        />
        <ValueControl
          setting={setting}
          title={title}
          value={line.value}
          refused={props.refusal !== undefined}
          onChange={(value) => props.onChange({ ...line, value })}
        />
      </div>
      {props.does && props.reached !== undefined && props.reached > 0 && !props.refusal && (
        <Does does={props.does} reached={props.reached} audience={props.audience} />
      )}
      {props.does?.repeats && !props.refusal && (
        <p className="text-shut text-[13px]">
          It repeats what already applies: without this policy nobody would have another value.
        </p>
      )}
      {props.inWorkspaces && setting && !setting.openToWorkspaces && (
        <p className="text-shut text-[13px]">
          It has no effect in workspaces: this setting is the same in all of them. The workspaces that the policy
          includes do not get it.
        </p>
      )}
      {props.refusal && (
        <Alert className="mt-1">
          {title} {props.refusal}.
        </Alert>
      )}
    </li>
  );
}

type Did = NonNullable<Schemas['StatementEffects']>['does'][number];

/** For how many it decides, by what it is outranked, and what blocks it. */
function Does({ does, reached, audience }: { does: Did; reached: number; audience: Who }) {
  const n = (k: number) => formatNumber(k);
  const some = (all: Did['outranked'], word: (c: Did['outranked'][number]) => string, rest: string) => {
    const others = all.slice(2).reduce((sum, c) => sum + c.accounts, 0);
    return [...all.slice(0, 2).map(word), ...(others > 0 ? [`${rest} for ${n(others)}`] : [])];
  };
  const parts = [
    does.decides === reached
      ? `${does.cap ? 'Binds' : 'Decides'} for all ${n(reached)}`
      : `${does.cap ? 'Binds' : 'Decides'} for ${n(does.decides)} of ${n(reached)}`,
    ...(does.adds > 0 ? [`adds to the list of ${n(does.adds)}`] : []),
    ...some(does.outranked, (o) => `outranked by ${o.by} for ${n(o.accounts)}`, 'by others'),
    // One account can lack several things, so these do not add up and are not summed.
    ...does.blocked.map((b) => `blocked for ${n(b.accounts)}: ${b.by}`),
  ];
  return (
    <p
      className={does.decides + does.adds === 0 ? 'text-shut text-[13px]' : 'text-ink2 text-[13px]'}
      data-testid="does"
    >
      {parts.join(' · ')}
      {does.unlicensed && (
        <>
          {' · '}
          <Link
            className="quiet"
            to={`/seats${writeQuestion({ who: audience, what: { id: does.setting } }, '?list=needed')}`}
          >
            what would it take?
          </Link>
        </>
      )}
    </p>
  );
}
