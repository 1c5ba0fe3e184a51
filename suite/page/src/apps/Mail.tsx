import { useState } from 'react';
import { Ability, Fact, Level, Rest, usePage } from '../page';

const SPOKEN = [
  'mail.outside',
  'mail.delegate',
  'mail.delegate-send',
  'mail.forward',
  'mail.size',
  'mail.signature',
  'mail.signature-own',
  'mail.recall',
  'mail.print',
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
          <Fact k="mail.signature">{(v) => <>{v}</>}</Fact>
          <div className="mt-3 flex flex-wrap gap-2">
            <Ability k="mail.recall">Call this back</Ability>
            <Ability k="mail.print">Print</Ability>
            <Ability k="mail.signature-own">Write my own signature</Ability>
            <Ability k="mail.outside">Send to somebody outside</Ability>
          </div>
          <Fact k="mail.size">{(v) => <>What is attached may have {v}.</>}</Fact>
        </section>
        <section className="sheet" aria-label="My mailbox">
          <h2 className="font-semibold">My mailbox</h2>
          <div className="mt-2 grid justify-items-start gap-2">
            <Ability k="mail.delegate" pressed={deputy} onPress={() => setDeputy(!deputy)}>
              {deputy ? 'A deputy may open it' : 'Let somebody open it'}
            </Ability>
            <Ability k="mail.delegate-send">Let them send in my name</Ability>
          </div>
          <p className="mt-3">My mail is forwarded to</p>
          <Level k="mail.forward" label="Where mail is forwarded" chosen={forward} onChoose={setForward} />
        </section>
      </div>
      <Rest app="mail" spoken={SPOKEN} />
    </>
  );
}
