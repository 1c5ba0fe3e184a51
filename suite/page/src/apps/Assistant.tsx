import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { get, type PageView, type Seen } from '../api';
import { Ability, Place, Rest, useControl, usePage } from '../page';

const SPOKEN = ['assistant.use', 'assistant.name', 'assistant.topics', 'assistant.requests'];

export function Assistant() {
  const { person, view } = usePage();
  const [workspace, setWorkspace] = useState(person.workspaces[0]?.id ?? '');
  const inside = useQuery({
    queryKey: ['inside', view.page, workspace, view.clock],
    queryFn: () => get<PageView>(`pages/${view.page}?workspace=${encodeURIComponent(workspace)}`),
    enabled: workspace !== '',
    placeholderData: (before) => before,
  });
  return (
    <>
      <div className="grid gap-4 lg:grid-cols-2">
        <Talk where="Outside any workspace" marked />
        {person.workspaces.length > 0 && (
          <Talk
            where={
              <>
                In{' '}
                <select
                  className="field py-0"
                  aria-label="Workspace"
                  value={workspace}
                  onChange={(e) => setWorkspace(e.target.value)}
                >
                  {person.workspaces.map((w) => (
                    <option key={w.id} value={w.id}>
                      {w.name}
                    </option>
                  ))}
                </select>
              </>
            }
            among={inside.data?.settings ?? []}
          />
        )}
      </div>
      <Rest app="assistant" spoken={SPOKEN} />
    </>
  );
}

function Talk({ where, among, marked }: { where: React.ReactNode; among?: Seen[]; marked?: boolean }) {
  const use = useControl('assistant.use', among);
  const name = useControl('assistant.name', among);
  const topics = useControl('assistant.topics', among);
  const most = useControl('assistant.requests', among);
  const [asked, setAsked] = useState('');
  const [answered, setAnswered] = useState('');
  const facts = marked && (
    <p className="text-sm text-soft">
      {[name, topics, most].map(
        (c) =>
          c && (
            <Place key={c.key} control={c}>
              <span>
                {c.title}: {c.inWords}
              </span>
            </Place>
          ),
      )}
    </p>
  );
  return (
    <section className="sheet" aria-label={marked ? 'Outside any workspace' : 'In a workspace'}>
      <h2 className="font-semibold">{where}</h2>
      {use?.shown === 'there' ? (
        <>
          <p className="my-2">
            {marked ? (
              <Place control={use}>
                <span>Ask {name?.inWords ?? 'the assistant'} something.</span>
              </Place>
            ) : (
              <>Ask {name?.inWords ?? 'the assistant'} something.</>
            )}
          </p>
          <form
            className="flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              setAnswered(asked);
            }}
          >
            <input
              className="field min-w-0 flex-1"
              aria-label="A question"
              value={asked}
              onChange={(e) => setAsked(e.target.value)}
            />
            <button type="submit" className="button main">
              Ask
            </button>
          </form>
          {answered && <p className="mt-2">“{answered}”: this stand-in has no answers of its own.</p>}
        </>
      ) : use?.shown === 'greyed' && marked ? (
        <Ability k="assistant.use">Ask the assistant</Ability>
      ) : (
        <p className="my-2 text-soft">There is nobody to ask here.</p>
      )}
      {facts}
    </section>
  );
}
