import { useState } from 'react';
import { Ability, Fact, Level, Rest, useControl } from '../page';
import { option } from '../words';

const SPOKEN = [
  'files.share',
  'files.share-days',
  'files.consignees',
  'files.take-ashore',
  'files.no-signal',
  'files.seal-new',
];

export function Files() {
  const share = useControl('files.share');
  const [level, setLevel] = useState('company');
  const [made, setMade] = useState('');
  return (
    <>
      <section className="sheet" aria-label="A cargo paper">
        <h2 className="font-semibold">Waybill 4417, seed potatoes</h2>
        {share && share.shown !== 'absent' ? (
          <>
            <p className="mt-2">This paper may travel to</p>
            <Level k="files.share" label="How far it may travel" chosen={level} onChoose={setLevel} />
            <p className="mt-2">
              <button type="button" className="button main" onClick={() => setMade(level)}>
                Send it on
              </button>{' '}
              {made && <span role="status">It travels to: {option(made)}.</span>}
            </p>
          </>
        ) : (
          <p className="mt-2">This paper stays on board.</p>
        )}
        <div className="mt-3 text-sm">
          <Fact k="files.share-days">{(v) => <>Papers stay open to others for {v}.</>}</Fact>
          <Fact k="files.consignees">{(v) => <>Known consignees are {v}.</>}</Fact>
          <Fact k="files.seal-new">{(v) => <>A new paper is sealed “{v}”.</>}</Fact>
        </div>
        <div className="mt-3 flex gap-2">
          <Ability k="files.take-ashore">Take ashore</Ability>
          <Ability k="files.no-signal">Keep for where there is no signal</Ability>
        </div>
      </section>
      <Rest app="files" spoken={SPOKEN} />
    </>
  );
}
