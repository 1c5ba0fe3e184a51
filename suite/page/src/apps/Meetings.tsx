import { useState } from 'react';
import { Ability, Fact, Level, Rest, useControl } from '../page';

const SPOKEN = [
  'meetings.start',
  'meetings.record',
  'meetings.captions',
  'meetings.summary',
  'meetings.share-screen',
  'meetings.whiteboard',
  'meetings.breakout',
  'meetings.length',
  'meetings.lobby',
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
          <Ability k="meetings.start">Start a meeting</Ability>
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
            Captions
          </Ability>
          <Ability k="meetings.record" pressed={recording} onPress={() => setRecording(!recording)}>
            {recording ? 'Recording' : 'Record'}
          </Ability>
          <Ability k="meetings.summary">Write a summary</Ability>
          <Ability k="meetings.whiteboard">Draw</Ability>
          <Ability k="meetings.breakout">Split into small rooms</Ability>
          <Ability k="meetings.muster">Call a muster</Ability>
        </div>
        <p className="mt-3">The screen is shown by</p>
        <Level k="meetings.share-screen" label="Who shows the screen" chosen={screen} onChoose={setScreen} />
        <div className="mt-3 text-sm">
          <Fact k="meetings.length">{(v) => <>It ends after {v} at the latest.</>}</Fact>
          <Fact k="meetings.lobby">{(v) => <>In the lobby wait: {v}.</>}</Fact>
        </div>
      </section>
      <Rest app="meetings" spoken={SPOKEN} />
    </>
  );
}
