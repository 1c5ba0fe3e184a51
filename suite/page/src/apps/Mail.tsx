import { useState } from 'react';
import { Ability, Fact, Level, Rest, usePage } from '../page';

const SPOKEN = [
  'mail.ashore',
  'mail.relief',
  'mail.relief-answer',
  'mail.pass-on',
  'mail.weight',
  'mail.letterhead',
  'mail.letterhead-own',
  'mail.fetch-back',
  'mail.print',
  'mail.open-post',
];

export function Mail() {
  const { person } = usePage();
  const [deputy, setDeputy] = useState(false);
  const [forward, setForward] = useState('never');
  return (
    <>
      <div className="grid gap-4 lg:grid-cols-2">
        <section className="sheet" aria-label="A message">
          <h2 className="font-semibold">Berth plan for December</h2>
          <p className="text-sm text-soft">From {person.name} to the berth crews, 08:15</p>
          <p className="my-2">The plan is attached. Heron and Plover change places from the fourth on.</p>
          <Fact k="mail.letterhead">{(v) => <>{v}</>}</Fact>
          <div className="mt-3 flex flex-wrap gap-2">
            <Ability k="mail.fetch-back">Fetch this back</Ability>
            <Ability k="mail.print">Print on the bridge</Ability>
            <Ability k="mail.letterhead-own">Write a line of my own</Ability>
            <Ability k="mail.ashore">Send to another firm</Ability>
          </div>
          <Fact k="mail.weight">{(v) => <>An enclosure may have {v}.</>}</Fact>
        </section>
        <section className="sheet" aria-label="My post">
          <h2 className="font-semibold">My post</h2>
          <div className="mt-2 grid justify-items-start gap-2">
            <Ability k="mail.relief" pressed={deputy} onPress={() => setDeputy(!deputy)}>
              {deputy ? 'My relief may open it' : 'Let my relief open it'}
            </Ability>
            <Ability k="mail.relief-answer">Let the relief answer in my name</Ability>
          </div>
          <Fact k="mail.open-post">{(v) => <>This post may also be opened by: {v}.</>}</Fact>
          <p className="mt-3">My mail is forwarded to</p>
          <Level k="mail.pass-on" label="Where mail is forwarded" chosen={forward} onChoose={setForward} />
        </section>
      </div>
      <Rest app="mail" spoken={SPOKEN} />
    </>
  );
}
