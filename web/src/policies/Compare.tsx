import type { PolicyLine, PolicyView } from '../api/client';
import { usePolicy } from '../parts/queries';
import { formatWindow } from '../text/dates';
import { targetOf } from './policyDiff';
import { Select } from '../parts/Select';

type Said = PolicyView['says'][number];

/** Two policies side by side, line by line; where they are the same they are light. */
export function Compare(props: {
  policies: PolicyLine[];
  left: string;
  right: string;
  zone: string;
  onRight: (policy: string | undefined) => void;
}) {
  const left = usePolicy(props.left);
  const right = usePolicy(props.right);
  if (!left.data || !right.data) return <p className="text-ink2 flex-1 p-6">Looking…</p>;
  return (
    <section aria-label="Compare" className="min-w-0 flex-1 overflow-y-auto">
      <div className="border-line flex items-center gap-2 border-b px-6 py-2.5">
        <span className="text-ink2 text-[13px]">Compared line by line; what is the same is light</span>
        <button className="button ml-auto" onClick={() => props.onRight(undefined)}>
          Close
        </button>
      </div>
      <table className="w-full table-fixed">
        <thead>
          <tr className="text-left align-baseline">
            <th className="w-[30%] px-6 py-3" aria-label="Line" />
            <th className="font-display pr-4 text-[16px] font-semibold">{left.data.name}</th>
            <th className="py-2 pr-6">
              <Select
                label="Compare with"
                className="w-full font-semibold"
                value={props.right}
                options={props.policies.filter((p) => p.id !== props.left).map((p) => ({ value: p.id, label: p.name }))}
                onChange={props.onRight}
              />
            </th>
          </tr>
        </thead>
        <tbody>
          {lines(left.data, right.data, props.zone).map((line) => (
            <tr
              key={line.key}
              className={line.left === line.right ? 'border-line text-ink2 border-t' : 'border-line border-t'}
            >
              <td className="px-6 py-1">{line.title}</td>
              <td className={line.left === line.right ? 'pr-4' : 'pr-4 font-semibold'}>{line.left || '—'}</td>
              <td className={line.left === line.right ? 'pr-6' : 'pr-6 font-semibold'}>{line.right || '—'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

interface Line {
  key: string;
  title: string;
  left: string;
  right: string;
}

const told = (said: Said | undefined) =>
  said ? `${said.cap ? 'at most ' : said.lock ? 'locked to ' : ''}${said.value}` : '';

/** The lines of both: state, statements by title, and for whom. */
function lines(left: PolicyView, right: PolicyView, zone: string): Line[] {
  const state: Line = {
    key: 'state',
    title: 'State',
    left: left.live ? 'live' : 'paused',
    right: right.live ? 'live' : 'paused',
  };
  const key = (s: Said) => `${s.setting} ${s.cap}`;
  const statements = [...new Map([...left.says, ...right.says].map((s) => [key(s), s])).values()]
    .sort((a, b) => a.title.localeCompare(b.title))
    .map((s) => ({
      key: key(s),
      title: s.title,
      left: told(left.says.find((l) => key(l) === key(s))),
      right: told(right.says.find((r) => key(r) === key(s))),
    }));
  const names = { ...left.names, ...right.names };
  const how = (policy: PolicyView, target: string) =>
    (policy.policy.assignments ?? [])
      .filter((a) => targetOf(a) === target)
      .map((a) => `${a.include ? 'included' : 'excepted'} ${formatWindow(a, zone)}`.trim())
      .join(', ');
  const targets = [...new Set([left, right].flatMap((p) => (p.policy.assignments ?? []).map(targetOf)))].map(
    (target) => ({
      key: target,
      title: `For ${names[target] ?? target}`,
      left: how(left, target),
      right: how(right, target),
    }),
  );
  return [state, ...statements, ...targets];
}
