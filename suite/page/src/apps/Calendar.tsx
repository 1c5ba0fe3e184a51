import { useState } from 'react';
import { Ability, Fact, Level, Place, Rest, useControl, usePage } from '../page';

const SPOKEN = [
  'calendar.show',
  'calendar.families',
  'calendar.swap',
  'calendar.swap-notice',
  'calendar.relief',
  'directory.place',
];
const PLACES = ['ashore', 'aboard', 'at home'];

export function Calendar() {
  const [shown, setShown] = useState('nobody');
  return (
    <>
      <section className="sheet" aria-label="This week">
        <h2 className="font-semibold">This week</h2>
        <ul className="my-2 grid gap-1">
          <li>Monday, 08:00 — Watch, four hours</li>
          <li>Wednesday, 14:00 — Timetable round</li>
          <li>Thursday, 10:00 — Boat drill</li>
        </ul>
        <div className="flex flex-wrap gap-2">
          <Ability k="calendar.swap">Offer Monday’s watch for a swap</Ability>
          <Ability k="calendar.relief">Let the relief keep my roster</Ability>
          <Ability k="calendar.families">Show it to my family</Ability>
        </div>
        <Fact k="calendar.swap-notice">{(v) => <>A swap is asked for {v} ahead.</>}</Fact>
        <p className="mt-3">Others see of my calendar</p>
        <Level k="calendar.show" label="What others see" chosen={shown} onChoose={setShown} />
        <Whereabouts />
      </section>
      <Rest app="calendar" spoken={SPOKEN} />
    </>
  );
}

/** The place that one works from, where the company asks for it. */
function Whereabouts() {
  const { person } = usePage();
  const control = useControl('directory.place');
  const [place, setPlace] = useState('ashore');
  if (!control || control.shown === 'absent' || control.value === 'not-asked') {
    return control && control.shown !== 'absent' ? (
      <p className="sr-only">
        <Place control={control}>
          <span>Aboard or ashore: {control.inWords}</span>
        </Place>
      </p>
    ) : null;
  }
  const own = control.value === 'own-word';
  return (
    <p className="mt-3">
      <Place control={control}>
        {own ? (
          <>
            <span>Today I work</span>
            {PLACES.map((p) => (
              <button key={p} type="button" className="button" aria-pressed={place === p} onClick={() => setPlace(p)}>
                {p}
              </button>
            ))}
          </>
        ) : (
          <span>
            Your working place is {control.inWords}: {person.unit}.
          </span>
        )}
      </Place>
    </p>
  );
}
