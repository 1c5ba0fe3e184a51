import type { Hit } from '../api/client';
import { EVERYONE, useQuestion, type Who } from '../question/question';
import { SearchBox, hitOption } from './SearchBox';

/** Whom a hit is; undefined where it is nobody. */
export function whoOfHit(hit: Hit): Who | undefined {
  switch (hit.kind) {
    case 'everyone':
      return EVERYONE;
    case 'account':
    case 'unit':
    case 'group':
      return { kind: hit.kind, id: hit.id };
    default:
      return undefined;
  }
}

/** One field over everything: free typing fills the slots of the question, and policies open. */
export function FreeTextSearch(props: { autoFocus?: boolean; large?: boolean; onAsked?: () => void }) {
  const [question, ask] = useQuestion();
  const done = (act: () => void) => () => {
    act();
    props.onAsked?.();
  };
  return (
    <SearchBox
      autoFocus={props.autoFocus}
      large={props.large}
      label="Ask anything"
      placeholder="Whom it is about, and any word for the setting"
      options={(hits, readings) => [
        ...readings.map(({ who, what }) => ({
          key: `${who.kind} ${who.id} ${what.id}`,
          title: `${who.title} · ${what.title}`,
          context: who.context || who.kind,
          choose: done(() => ask({ ...question, who: whoOfHit(who), what: { id: what.id } }, '/ladder')),
        })),
        ...hits.map((hit) =>
          hitOption(
            hit,
            done(() => {
              const who = whoOfHit(hit);
              if (who) ask({ ...question, who }, '/ladder');
              else if (hit.kind === 'setting') ask({ ...question, what: { id: hit.id } }, '/ladder');
              else if (hit.kind === 'workspace') ask({ ...question, where: { id: hit.id } }, '/ladder');
              else if (hit.kind === 'hosting') ask(question, `/directory/hostings/${encodeURIComponent(hit.id)}`);
              else if (hit.kind === 'plan') ask(question, `/seats/${encodeURIComponent(hit.id)}`);
              else ask(question, `/policies/${encodeURIComponent(hit.id)}`);
            }),
          ),
        ),
      ]}
      empty={
        <p className="text-ink2 px-2 py-1">
          A name, a unit, a group or everyone, and any word for the setting; or a policy or a licence plan.
        </p>
      }
    />
  );
}
