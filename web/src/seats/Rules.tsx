import type { Edit, PlanView } from '../api/client';
import { Finder, hitOption } from '../parts/Finder';
import { moment } from '../text/dates';
import { count, listed } from '../text/words';

type Rule = PlanView['rules'][number];

/** The rules of a plan in their order: who claims first. Moved by buttons, taken away, added at the end. */
export function Rules(props: {
  plan: string;
  rules: PlanView['rules'];
  components: PlanView['plan']['components'];
  zone: string;
  onEdit: (edits: Edit[]) => void;
}) {
  const { plan, rules } = props;
  const move = (at: number, to: number) => {
    const others = rules.filter((_, i) => i !== at);
    props.onEdit([
      { kind: 'rank-rule', plan, rule: rules[at]?.written as never, above: (others[to]?.written ?? null) as never },
    ]);
  };
  const leave = (rule: Rule, at: number, off: string[]) => {
    const written = { ...(rule.written as Record<string, unknown>), off };
    if (off.length === 0) delete (written as { off?: string[] }).off;
    const edits: Edit[] = [
      { kind: 'remove-rule', plan, rule: rule.written as never },
      { kind: 'put-rule', plan, rule: written, above: (rules[at + 1]?.written ?? null) as never },
    ];
    props.onEdit([{ kind: 'batch', edits }]);
  };
  return (
    <section aria-label="Rules">
      <h2 className="font-display mt-6 text-[16px] font-semibold">For whom</h2>
      {rules.length === 0 ? (
        <p className="text-ink2">No rule yet, so nobody has a seat. Name a unit, a group, people, or everyone.</p>
      ) : (
        <p className="text-ink2 text-[13px]">
          Who is named by the first rule claims first, then by the next; those named outright go before all.
        </p>
      )}
      <ol className="border-line mt-1 border-t empty:border-0" aria-label="Rules in their order">
        {rules.map((rule, i) => (
          <li
            key={JSON.stringify(rule.written)}
            className="border-line flex flex-wrap items-center gap-x-3 border-b py-1"
          >
            <span className="text-ink2 w-5 shrink-0 text-right">{i + 1}</span>
            <span className="min-w-0 flex-1">
              {rule.include ? '' : <em className="text-shut not-italic">except </em>}
              <strong className="font-semibold">{rule.whom}</strong>
              {rule.off.length > 0 && <> without {listed(rule.off.map((o) => o.name))}</>}
              <span className="text-ink2">
                {rule.from && ` from ${moment(rule.from, props.zone)}`}
                {rule.until && ` until ${moment(rule.until, props.zone)}`}
                {!rule.holds && ' · not now'}
              </span>
            </span>
            <span className={rule.accounts === 0 ? 'text-shut text-[13px]' : 'text-ink2 text-[13px]'}>
              {rule.include
                ? rule.accounts === 0
                  ? 'brings in nobody'
                  : `brings in ${count(rule.accounts, 'account')}`
                : `keeps out ${count(rule.accounts, 'account')}`}
            </span>
            {rule.include && props.components.length > 1 && (
              <select
                className="field h-7 text-[13px]"
                aria-label={`Components for ${rule.whom}`}
                value=""
                onChange={(e) => {
                  const id = e.target.value;
                  const off = rule.off.map((o) => o.id);
                  leave(rule, i, off.includes(id) ? off.filter((o) => o !== id) : [...off, id]);
                }}
              >
                <option value="">Components</option>
                {props.components.map((c) => (
                  <option key={c.id} value={c.id}>
                    {rule.off.some((o) => o.id === c.id) ? `Put back ${c.name}` : `Leave out ${c.name}`}
                  </option>
                ))}
              </select>
            )}
            <span className="flex">
              <button
                className="button h-7 px-2"
                disabled={i === 0}
                aria-label={`Move ${rule.whom} up`}
                onClick={() => move(i, i - 1)}
              >
                ↑
              </button>
              <button
                className="button -ml-px h-7 px-2"
                disabled={i === rules.length - 1}
                aria-label={`Move ${rule.whom} down`}
                onClick={() => move(i, i + 1)}
              >
                ↓
              </button>
              <button
                className="button -ml-px h-7 px-2"
                aria-label={`Take the rule for ${rule.whom} away`}
                onClick={() => props.onEdit([{ kind: 'remove-rule', plan, rule: rule.written as never }])}
              >
                ×
              </button>
            </span>
          </li>
        ))}
      </ol>
      <div className="mt-2 grid max-w-3xl gap-3 sm:grid-cols-2">
        {([true, false] as const).map((include) => (
          <Finder
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
