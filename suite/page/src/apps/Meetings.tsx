import { useState } from 'react';
import { Ability, Fact, Level, Rest, useControl } from '../page';

const SPOKEN = [
  'meetings.start',
  'meetings.record',
  'meetings.captions',
  'meetings.summary',
  'meetings.screen',
  'meetings.chart',
  'meetings.boats',
  'meetings.length',
  'meetings.gangway',
  'meetings.muster',
];

export function Meetings() {
  const captions = useControl('meetings.captions');
  const [on, setOn] = useState(false);
  const [recording, setRecording] = useState(false);
  const [screen, setScreen] = useState('nobody');
  return (
    <>
      <section className="sheet" aria-label="A meeting">
        <div className="flex flex-wrap items-baseline justify-between gap-2">
          <h2 className="font-semibold">Timetable round, Wednesday 14:00</h2>
          <Ability k="meetings.start">Open a meeting</Ability>
        </div>
        <div className="my-3 grid min-h-28 place-items-center rounded-xl bg-foam p-4 text-center">
          {on && captions?.shown === 'there' ? (
            <p>“… so the Plover leaves at half past, if the tide allows.”</p>
          ) : (
            <p className="text-soft">Four people are in the room.</p>
          )}
        </div>
        <div className="flex flex-wrap gap-2">
          <Ability k="meetings.captions" pressed={on} onPress={() => setOn(!on)}>
            Show what is said
          </Ability>
          <Ability k="meetings.record" pressed={recording} onPress={() => setRecording(!recording)}>
            {recording ? 'Recording' : 'Record'}
          </Ability>
          <Ability k="meetings.summary">Write a summary</Ability>
          <Ability k="meetings.chart">Draw on the chart</Ability>
          <Ability k="meetings.boats">Split into boat crews</Ability>
          <Ability k="meetings.muster">Call a muster</Ability>
        </div>
        <p className="mt-3">The screen is shown by</p>
        <Level k="meetings.screen" label="Who shows the screen" chosen={screen} onChoose={setScreen} />
        <div className="mt-3 text-sm">
          <Fact k="meetings.length">{(v) => <>It ends after {v} at the latest.</>}</Fact>
          <Fact k="meetings.gangway">{(v) => <>At the gangway wait: {v}.</>}</Fact>
        </div>
      </section>
      <Rest app="meetings" spoken={SPOKEN} />
    </>
  );
}
