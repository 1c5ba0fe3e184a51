import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { get, type Found } from '../api';
import { Ability, Fact, Place, Rest, useControl, usePage } from '../page';

const SPOKEN = [
  'directory.portrait',
  'directory.numbers',
  'directory.on-watch',
  'directory.languages',
  'directory.certificates',
  'directory.sign-in-text',
  'directory.place',
  'directory.take-out',
  'directory.finds',
];

export function Directory() {
  const { person } = usePage();
  const [typed, setTyped] = useState(person.unit);
  const phone = useControl('directory.numbers');
  const status = useControl('directory.on-watch');
  const languages = useControl('directory.languages');
  const found = useQuery({
    queryKey: ['people', typed],
    queryFn: () => get<Found[]>(`people?q=${encodeURIComponent(typed)}`),
    enabled: typed.length > 1,
  });
  return (
    <>
      <section className="sheet" aria-label="People">
        <div className="flex flex-wrap items-center justify-between gap-2">
          <input
            className="field"
            aria-label="Find somebody"
            placeholder="Find somebody"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <div className="flex flex-wrap gap-2">
            <Ability k="directory.portrait">Change my portrait</Ability>
            <Ability k="directory.take-out">Take out the crew list</Ability>
          </div>
        </div>
        <ul className="my-3 grid gap-1">
          {found.data?.slice(0, 8).map((f, i) => (
            <li key={f.id} className="flex flex-wrap gap-x-4">
              <strong className="min-w-40 font-semibold">{f.name}</strong>
              <span className="text-soft">{f.unit}</span>
              {status?.shown === 'there' && <span>{i % 3 === 0 ? 'on watch' : 'off watch'}</span>}
              {languages?.shown === 'there' && (
                <span className="text-soft">English{i % 2 === 0 && ', Portuguese'}</span>
              )}
            </li>
          ))}
          {found.data?.length === 0 && <li className="text-soft">Nobody is called “{typed}”.</li>}
        </ul>
        <div className="flex flex-wrap gap-x-6 text-sm text-soft">
          {[status, languages].map(
            (c) =>
              c && (
                <Place key={c.key} control={c}>
                  <span>
                    {c.title}: {c.inWords}
                  </span>
                </Place>
              ),
          )}
          {phone && (
            <Place control={phone}>
              <span>Private telephone numbers are shown to: {phone.inWords}</span>
            </Place>
          )}
        </div>
        <Ability k="directory.certificates">Show my certificates</Ability>
        <Fact k="directory.finds">{(v) => <>You find here: {v}.</>}</Fact>
        <Fact k="directory.sign-in-text">{(v) => <>On the sign-in page stands: {v}</>}</Fact>
      </section>
      <Rest app="directory" spoken={SPOKEN} />
    </>
  );
}
