import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { get, post, type Found, type Talk, Trouble } from '../api';
import { Ability, Fact, Place, Rest, useControl, usePage } from '../page';
import { time } from '../words';

const SPOKEN = [
  'chat.boards',
  'chat.private',
  'chat.whistle',
  'chat.aye',
  'chat.flags',
  'chat.flags-draw',
  'chat.flags-strike',
  'chat.spoken',
  'chat.translate',
  'chat.order-read',
  'chat.strike',
  'chat.mend-within',
  'chat.watch-handover',
  'chat.safety-mute',
];

const LINES = [
  { id: 1, from: 'Ivo Tarn', at: '07:40', text: 'Fuel barge alongside at ten. Galley knows.' },
  { id: 2, from: 'Vera Quill', at: '07:52', text: 'Nevoeiro até às nove; buzinas a cada dois minutos.', foreign: true },
];

export function Chat() {
  return (
    <>
      <div className="grid gap-4 lg:grid-cols-[3fr_2fr]">
        <Thread />
        <div className="grid content-start gap-4">
          <Private />
          <section className="sheet" aria-label="Announcements">
            <h2 className="font-semibold">From the safety office</h2>
            <p>Boat drill on Thursday, 10:00, both watches.</p>
            <Ability k="chat.safety-mute">Silence muster calls</Ability>
          </section>
        </div>
      </div>
      <Rest app="chat" spoken={SPOKEN} />
    </>
  );
}

function Thread() {
  const { person } = usePage();
  const [written, setWritten] = useState<{ text: string; urgent: boolean; acknowledge: boolean }[]>([]);
  const [text, setText] = useState('');
  const [urgent, setUrgent] = useState(false);
  const [acknowledge, setAcknowledge] = useState(false);
  const post = useControl('chat.boards');
  const send = () => {
    if (text.trim() === '') return;
    setWritten([...written, { text, urgent, acknowledge }]);
    setText('');
    setUrgent(false);
    setAcknowledge(false);
  };
  return (
    <section className="sheet" aria-label="Thread">
      <div className="flex items-baseline justify-between gap-4">
        <h2 className="font-semibold">Morning watch</h2>
        <Ability k="chat.watch-handover">Give the handover</Ability>
      </div>
      <ul className="my-3 grid gap-3">
        {LINES.map((line) => (
          <li key={line.id}>
            <span className="text-sm text-soft">
              {line.from}, {line.at}
            </span>
            <p>{line.text}</p>
            {line.foreign && <Ability k="chat.translate">In my language</Ability>}
          </li>
        ))}
        {written.map((line, i) => (
          <li key={i} className="rounded-xl bg-foam px-3 py-2">
            <span className="text-sm text-soft">
              {person.name}
              {line.urgent && ', with the whistle'}
            </span>
            <p>{line.text}</p>
            {line.acknowledge && <p className="text-sm text-soft">Everybody is asked for an aye.</p>}
          </li>
        ))}
      </ul>
      {post && (
        <Place control={post} wide>
          <textarea
            className="field w-full"
            rows={2}
            aria-label="Write to the morning watch"
            placeholder="Write to the morning watch"
            disabled={post.shown !== 'there'}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {post.shown === 'there' && (
            <button type="button" className="button main mt-2" onClick={send}>
              Send
            </button>
          )}
        </Place>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Ability k="chat.whistle" pressed={urgent} onPress={() => setUrgent(!urgent)}>
          Sound the whistle
        </Ability>
        <Ability k="chat.aye" pressed={acknowledge} onPress={() => setAcknowledge(!acknowledge)}>
          Ask for an aye
        </Ability>
        <Ability k="chat.spoken">Speak it</Ability>
        <Ability k="chat.flags">Hoist a flag</Ability>
        <Ability k="chat.flags-draw">Draw a flag</Ability>
        <Ability k="chat.flags-strike">Take a flag down</Ability>
        <Ability k="chat.strike">Strike out my last message</Ability>
      </div>
      <div className="mt-3 text-sm">
        <Fact k="chat.mend-within">{(v) => <>A message can be mended for {v} after it was sent.</>}</Fact>
        <Fact k="chat.order-read">{(v) => <>The one who gave an order sees who has read it: {v}.</>}</Fact>
      </div>
    </section>
  );
}

function Private() {
  const { view } = usePage();
  const control = useControl('chat.private');
  const cache = useQueryClient();
  const [to, setTo] = useState<Found | null>(null);
  const [typed, setTyped] = useState('');
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState('');
  const talks = useQuery({
    queryKey: ['talks', view.page],
    queryFn: () => get<Talk[]>(`pages/${view.page}/talks`),
    refetchInterval: 2000,
    enabled: control?.shown === 'there',
  });
  const found = useQuery({
    queryKey: ['people', typed],
    queryFn: () => get<Found[]>(`people?q=${encodeURIComponent(typed)}`),
    enabled: typed.length > 1,
  });
  if (!control || control.shown === 'absent') return null;
  const there = control.shown === 'there';
  const talk = talks.data?.find((t) => t.with === to?.id);
  const write = async () => {
    if (!to || text.trim() === '') return;
    try {
      cache.setQueryData(['talks', view.page], await post<Talk[]>(`pages/${view.page}/talks`, { to: to.id, text }));
      setText('');
      setTrouble('');
    } catch (e) {
      setTrouble(e instanceof Trouble ? e.message : String(e));
    }
  };
  return (
    <section className="sheet" aria-label="Talk between two">
      <h2 className="font-semibold">Talk between two</h2>
      <Place control={control} wide>
        <input
          className="field w-full"
          aria-label="Write to one person"
          placeholder="Write to one person"
          disabled={!there}
          value={to ? to.name : typed}
          onChange={(e) => {
            setTo(null);
            setTyped(e.target.value);
          }}
        />
      </Place>
      {there && !to && typed.length > 1 && (
        <ul className="mt-1">
          {found.data
            ?.filter((f) => f.id !== view.account)
            .slice(0, 6)
            .map((f) => (
              <li key={f.id}>
                <button type="button" className="text-left hover:underline" onClick={() => setTo(f)}>
                  {f.name} <small className="text-soft">{f.unit}</small>
                </button>
              </li>
            ))}
        </ul>
      )}
      {there && !to && (
        <ul className="mt-2">
          {talks.data?.map((t) => (
            <li key={t.with}>
              <button
                type="button"
                className="text-left hover:underline"
                onClick={() => setTo({ id: t.with, name: t.name, unit: '' })}
              >
                {t.name} <small className="text-soft">“{t.lines.at(-1)?.text}”</small>
              </button>
            </li>
          ))}
        </ul>
      )}
      {there && to && (
        <>
          <ul className="my-2 grid gap-1">
            {talk?.lines.map((l, i) => (
              <li key={i} className={l.from === view.account ? 'text-right' : undefined}>
                <small className="text-soft">{time(l.at)}</small> {l.text}
              </li>
            ))}
          </ul>
          {talk && !talk.open ? (
            <p className="text-soft">{to.name} cannot be written to privately.</p>
          ) : (
            <form
              className="flex gap-2"
              onSubmit={(e) => {
                e.preventDefault();
                void write();
              }}
            >
              <input
                className="field min-w-0 flex-1"
                aria-label={`Write to ${to.name}`}
                value={text}
                onChange={(e) => setText(e.target.value)}
              />
              <button type="submit" className="button main">
                Send
              </button>
            </form>
          )}
        </>
      )}
      {trouble && (
        <p role="alert" className="text-mark">
          {trouble}
        </p>
      )}
    </section>
  );
}
