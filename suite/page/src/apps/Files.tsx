import { useState } from 'react';
import { Ability, Fact, Level, Rest, useControl } from '../page';
import { option } from '../words';

const SPOKEN = [
  'files.share',
  'files.share-days',
  'files.listed-firms',
  'files.download',
  'files.offline',
  'files.label-default',
];

export function Files() {
  const share = useControl('files.share');
  const [level, setLevel] = useState('own-people');
  const [made, setMade] = useState('');
  return (
    <>
      <section className="sheet" aria-label="Share a file">
        <h2 className="font-semibold">Winter timetable.ods</h2>
        {share && share.shown !== 'absent' ? (
          <>
            <p className="mt-2">This file can be opened by</p>
            <Level k="files.share" label="Who can open it" chosen={level} onChoose={setLevel} />
            <p className="mt-2">
              <button type="button" className="button main" onClick={() => setMade(level)}>
                Make a link
              </button>{' '}
              {made && <span role="status">A link for {option(made)} was made.</span>}
            </p>
          </>
        ) : (
          <p className="mt-2">This file stays inside the company.</p>
        )}
        <div className="mt-3 text-sm">
          <Fact k="files.share-days">{(v) => <>A link to somebody outside lasts {v}.</>}</Fact>
          <Fact k="files.listed-firms">{(v) => <>Listed firms are {v}.</>}</Fact>
          <Fact k="files.label-default">{(v) => <>New files are marked “{v}”.</>}</Fact>
        </div>
        <div className="mt-3 flex gap-2">
          <Ability k="files.download">Download</Ability>
          <Ability k="files.offline">Keep for when there is no connection</Ability>
        </div>
      </section>
      <Rest app="files" spoken={SPOKEN} />
    </>
  );
}
