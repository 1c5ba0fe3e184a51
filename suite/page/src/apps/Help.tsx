import { Ability, Fact, Place, Rest, useControl } from '../page';
import { text } from '../words';

const LINKS = ['help.pilot-book', 'help.school', 'help.mess', 'help.contact'];
const SPOKEN = [...LINKS, 'help.notice', 'help.phone', 'help.look-on', 'help.tour', 'help.maker'];

/** Links of the suite itself, which nobody can change. */
const FIXED = [
  { title: 'Terms of the suite', to: 'https://help.suite.example/terms' },
  { title: 'How the suite is doing today', to: 'https://help.suite.example/today' },
];

export function Help() {
  return (
    <>
      <section className="sheet" aria-label="Help">
        <h2 className="font-semibold">Where to find help</h2>
        <Fact k="help.notice">{(v) => <>{v}</>}</Fact>
        <ul className="my-2 grid gap-2">
          {LINKS.map((k) => (
            <HelpLink key={k} k={k} />
          ))}
          {FIXED.map((link) => (
            <li key={link.to}>
              <a className="text-sea underline" href={link.to} rel="noreferrer">
                {link.title}
              </a>{' '}
              <small className="text-soft">{link.to} — the suite’s own; your company cannot change this one</small>
            </li>
          ))}
        </ul>
        <Fact k="help.phone">{(v) => <>By telephone: {v}.</>}</Fact>
        <div className="mt-3 flex flex-wrap gap-2">
          <Ability k="help.look-on">The help desk looks on</Ability>
          <Ability k="help.tour">Take the tour</Ability>
          <Ability k="help.maker">Write to the maker of the suite</Ability>
        </div>
      </section>
      <Rest app="help" spoken={SPOKEN} />
    </>
  );
}

function HelpLink({ k }: { k: string }) {
  const control = useControl(k);
  if (!control || control.shown === 'absent') return null;
  const to = text(control.value);
  const suites = control.meant?.default === to && to.includes('suite.example');
  return (
    <li>
      <Place control={control}>
        <a className="text-sea underline" href={to} rel="noreferrer">
          {control.title}
        </a>
        <small className="text-soft">
          {to} — {suites ? 'the suite’s own page' : 'your company’s own page'}
        </small>
      </Place>
    </li>
  );
}
