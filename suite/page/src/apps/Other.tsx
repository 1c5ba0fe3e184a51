import { Ability, Fact, Rest } from '../page';

export function Calls() {
  return (
    <>
      <section className="sheet" aria-label="Calls">
        <h2 className="font-semibold">Bridge, MV Heron — two calls missed</h2>
        <div className="mt-2 flex flex-wrap gap-2">
          <Ability k="calls.cabin">Ring a cabin</Ability>
          <Ability k="calls.shore">Call ashore</Ability>
          <Ability k="calls.wheelhouse">Ring the wheelhouse</Ability>
        </div>
        <Fact k="calls.ports">{(v) => <>You can call: {v}.</>}</Fact>
        <Fact k="calls.minutes">{(v) => <>Over satellite you have {v} a month.</>}</Fact>
      </section>
      <Rest app="calls" spoken={['calls.cabin', 'calls.shore', 'calls.wheelhouse', 'calls.ports', 'calls.minutes']} />
    </>
  );
}

export function Pages() {
  return (
    <>
      <section className="sheet" aria-label="A page">
        <h2 className="font-semibold">How we moor in an easterly</h2>
        <p className="my-2">Two springs first, then the head line. The ramp stays up until the mate has waved.</p>
        <div className="flex flex-wrap gap-2">
          <Ability k="pages.create">Write a page</Ability>
          <Ability k="pages.remarks">Write a remark</Ability>
          <Ability k="pages.notice-board">Pin to the notice board</Ability>
          <Ability k="pages.paper">On paper</Ability>
        </div>
      </section>
      <Rest app="pages" spoken={['pages.create', 'pages.remarks', 'pages.notice-board', 'pages.paper']} />
    </>
  );
}

export function Reports() {
  return (
    <>
      <section className="sheet" aria-label="A report">
        <div className="flex flex-wrap items-baseline justify-between gap-2">
          <h2 className="font-semibold">Cars on the morning boats</h2>
          <Ability k="reports.view">Open the report</Ability>
        </div>
        <div role="group" aria-label="The report’s menu" className="mt-2 flex flex-wrap gap-2">
          <Ability k="reports.by-mail">Send it to me by mail</Ability>
          <Ability k="reports.alarms">Tell me when a figure is odd</Ability>
          <Ability k="reports.ask">Ask for figures in plain words</Ability>
          <Ability k="reports.build">Build one like it</Ability>
        </div>
        <Fact k="reports.take-out">{(v) => <>Of its figures you can take out: {v}.</>}</Fact>
        <Fact k="reports.share">{(v) => <>It may travel to: {v}.</>}</Fact>
      </section>
      <Rest
        app="reports"
        spoken={[
          'reports.view',
          'reports.by-mail',
          'reports.alarms',
          'reports.ask',
          'reports.build',
          'reports.take-out',
          'reports.share',
        ]}
      />
    </>
  );
}

export function Devices() {
  return (
    <>
      <section className="sheet" aria-label="My devices">
        <h2 className="font-semibold">My devices</h2>
        <ul className="my-2">
          <li>Tablet of the wheelhouse — in use</li>
          <li>Telephone, private — last used yesterday</li>
        </ul>
        <div className="flex flex-wrap gap-2">
          <Ability k="devices.own">Add a device of my own</Ability>
          <Ability k="devices.map">Show me on the plan</Ability>
          <Ability k="devices.night-screen">Night screen</Ability>
        </div>
        <Fact k="devices.idle">{(v) => <>The screen locks after {v}.</>}</Fact>
        <Fact k="devices.sign-in-days">{(v) => <>You sign in again after {v}.</>}</Fact>
        <Fact k="devices.second-proof">{(v) => <>A second proof is asked for: {v}.</>}</Fact>
      </section>
      <Rest
        app="devices"
        spoken={[
          'devices.own',
          'devices.map',
          'devices.night-screen',
          'devices.idle',
          'devices.sign-in-days',
          'devices.second-proof',
          'preview.ring',
        ]}
      />
    </>
  );
}
