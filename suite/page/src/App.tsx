import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { get, type Found } from './api';
import { go, useHere } from './here';
import { Person } from './Person';

export function App() {
  const place = useHere();
  return place.as === '' ? <Door /> : <Person key={`${place.as} ${place.at}`} here={place} />;
}

/** Where one chooses as whom to step in. */
function Door() {
  const [typed, setTyped] = useState('');
  const company = useQuery({ queryKey: ['company'], queryFn: () => get<{ name?: string }>('company') });
  const found = useQuery({
    queryKey: ['people', typed],
    queryFn: () => get<Found[]>(`people?q=${encodeURIComponent(typed)}`),
  });
  useEffect(() => {
    document.title = 'Simulated suite';
  }, []);
  return (
    <main className="mx-auto mt-[12vh] max-w-xl px-4">
      <p className="font-semibold text-mark">Simulated suite</p>
      <h1 className="text-2xl font-semibold">Step in as somebody of {company.data?.name ?? 'the company'}</h1>
      <p className="my-2 text-soft">
        A stand-in for the company’s suite. It shows what a person would see, and decides nothing by itself.
      </p>
      <input
        className="field w-full"
        // eslint-disable-next-line jsx-a11y/no-autofocus -- there is nothing else to do here
        autoFocus
        aria-label="Whose page"
        placeholder="A name"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => {
          const first = found.data?.[0];
          if (e.key === 'Enter' && first && typed.trim() !== '') go({ as: first.id });
        }}
      />
      {typed.trim() === '' && !!found.data?.length && <p className="mt-3 px-3 text-soft">Some of them</p>}
      <ul className="mt-3 grid gap-1">
        {found.data?.map((f) => (
          <li key={f.id}>
            <button
              type="button"
              className="w-full rounded-lg px-3 py-1 text-left hover:bg-foam"
              onClick={() => go({ as: f.id })}
            >
              {f.name} <small className="text-soft">{f.unit}</small>
            </button>
          </li>
        ))}
        {found.data?.length === 0 && typed.trim() !== '' && <li className="text-soft">Nobody is called “{typed}”.</li>}
      </ul>
      {found.error && (
        <p role="alert" className="text-mark">
          {found.error.message}
        </p>
      )}
    </main>
  );
}
