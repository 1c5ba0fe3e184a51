import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, unwrap, type AccountSetting, type AccountView } from '../api/client';
import { History } from '../parts/History';
import { RungMark, StandingMark } from '../parts/marks';
import { useAccount, useAccountSettings, useCatalogue, useLogbook } from '../parts/queries';
import { useSettlingChanges } from '../parts/settling';
import { draftOf, useQuestion, writeQuestion, type Question } from '../question/question';
import { copy, NOT_COPIED } from '../text/clipboard';
import { formatInstant } from '../text/dates';
import { capital, count, joinList } from '../text/words';

/** What there is to know of a person before one asks about a setting: what is unusual, blocked, licensed, asked for and on its way. */
export function PersonOverview({ question, zone }: { question: Question; zone: string }) {
  const account = useAccount(question);
  const settings = useAccountSettings(question);
  if (!account.data || !settings.data) return null;
  const rows = settings.data.settings;
  const differing = rows.filter((r) => r.differs && r.standing !== 'blocked');
  const blocked = rows.filter((r) => r.standing === 'blocked');
  return (
    <>
      <div className="flex items-start gap-3">
        <h1 className="font-display min-w-0 flex-1 text-[20px] font-semibold">{account.data.displayName}</h1>
        <TakeSettings account={account.data} rows={rows} />
      </div>
      <p className="text-ink2">
        {draftOf(question.when) === undefined ? 'As things stand' : 'As things would stand after the draft'}. Choose a
        setting at the left to see why it is as it is, and to change it.
      </p>
      <div className="mt-1 grid gap-x-10 min-[1500px]:grid-cols-2">
        <section aria-label="Blocked">
          <Heading>Blocked</Heading>
          {blocked.length === 0 && <p className="text-ink2">Nothing: every need is met.</p>}
          <Rows rows={blocked} tell={(r) => `would be ${r.decided}. Needs: ${joinList(r.blockedBy)}`} />
        </section>
        <section aria-label="Differs from the unit">
          <Heading>Differs from most of the unit</Heading>
          {differing.length === 0 && <p className="text-ink2">Nothing.</p>}
          <Rows rows={differing} tell={(r) => `most have ${r.usual ?? ''}`} />
        </section>
        <Licences account={account.data} />
        <Previews account={account.data} />
        <Requests account={account.data.id} zone={zone} />
        <Arriving account={account.data.id} zone={zone} />
        <History about={{ account: account.data.id }} zone={zone} heading="h2" />
      </div>
      <PrintedSettings rows={rows} />
    </>
  );
}

const Heading = ({ children }: { children: React.ReactNode }) => (
  <h2 className="font-display mt-5 text-[16px] font-semibold">{children}</h2>
);

function Rows({ rows, tell }: { rows: AccountSetting[]; tell: (row: AccountSetting) => string }) {
  const [question] = useQuestion();
  return (
    <ul className="border-line mt-1 border-t empty:border-0">
      {rows.map((row) => (
        <li key={row.key} className="border-line border-b py-1">
          <span className="flex items-center gap-2">
            <Link
              className="min-w-0 flex-1 truncate hover:underline"
              to={`/ladder${writeQuestion({ ...question, what: { id: row.key } })}`}
            >
              {row.title}
            </Link>
            <span className="font-semibold">{capital(row.value)}</span>
            <RungMark rung={row.rung} />
            <StandingMark standing={row.standing} />
          </span>
          <span className="text-ink2 block text-[13px]">{tell(row)}</span>
        </li>
      ))}
    </ul>
  );
}

function Licences({ account }: { account: AccountView }) {
  const [question] = useQuestion();
  return (
    <section aria-label="Licences">
      <Heading>Licences</Heading>
      {account.seats.length === 0 && <p className="text-ink2">No plan has a rule that includes this account.</p>}
      <ul className="border-line mt-1 border-t empty:border-0">
        {account.seats.map((seat) => (
          <li key={seat.planId} className="border-line border-b py-1">
            <Link className="font-semibold hover:underline" to={`/seats/${seat.planId}${writeQuestion(question)}`}>
              {seat.plan}
            </Link>{' '}
            <span className="text-ink2">
              {seat.standing === 'waiting'
                ? `waits for a seat${seat.place ? `, number ${seat.place} in line` : ''}`
                : seat.standing === 'seated'
                  ? `seat held${seat.since ? ` since ${seat.since}` : ''}`
                  : 'the plan is not in term'}
              {seat.rule ? `, by rule ${seat.rule}` : ''}
            </span>
            {seat.carries.length > 0 && <span className="block text-[13px]">With {joinList(seat.carries)}</span>}
            {seat.leftOut.map((left) => (
              <span key={left.name} className="text-shut block text-[13px]">
                Without {left.name}
                {left.rules.length > 0 && `: left out by rule ${joinList(left.rules.map(String))}`}
              </span>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Previews({ account }: { account: AccountView }) {
  const { ring, consents } = account;
  return (
    <section aria-label="Previews">
      <Heading>Previews</Heading>
      {ring ? (
        <p>
          In the ring <strong className="font-semibold">{ring.name}</strong>
          {ring.asksConsent && !ring.consented && ', which asks for consent; none was given'}.
        </p>
      ) : (
        <p className="text-ink2">There are no rings.</p>
      )}
      {consents.map((consent) => (
        <p key={consent.to} className="text-ink2">
          Consented to {consent.to} on {consent.since}.
        </p>
      ))}
    </section>
  );
}

const STATES: Record<string, string> = {
  open: 'waits for an answer',
  declined: 'declined',
  granted: 'granted',
  closed: 'closed',
};

function Requests({ account, zone }: { account: string; zone: string }) {
  const [question] = useQuestion();
  const found = useQuery({
    queryKey: ['requests', 'of', account],
    queryFn: () => unwrap(api.GET('/api/v1/requests', { params: { query: { account, limit: 20 } } })),
  });
  const requests = found.data?.requests ?? [];
  return (
    <section aria-label="Requests">
      <Heading>Requests</Heading>
      {found.data && requests.length === 0 && <p className="text-ink2">Nothing was asked for.</p>}
      <ul className="border-line mt-1 border-t empty:border-0">
        {requests.map((request) => (
          <li key={request.id} className="border-line border-b py-1">
            <Link className="hover:underline" to={`/today/requests/${request.id}${writeQuestion(question)}`}>
              {request.title}
            </Link>{' '}
            <span className="text-ink2 text-[13px]">
              {formatInstant(request.asked, zone)}, {STATES[request.state] ?? request.state}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The changes that alter something for this account and have not reached every screen yet. */
function Arriving({ account, zone }: { account: string; zone: string }) {
  const [question] = useQuestion();
  const settling = useSettlingChanges();
  const about = useLogbook({ account }, 100);
  const numbers = new Set(about.data?.pages[0]?.changes.map((c) => c.number));
  const arriving = (settling.data?.changes ?? []).filter((c) => numbers.has(c.number));
  return (
    <section aria-label="Still arriving">
      <Heading>Still arriving</Heading>
      {arriving.length === 0 && <p className="text-ink2">Nothing is on its way.</p>}
      <ul className="border-line mt-1 border-t empty:border-0">
        {arriving.map((change) => (
          <li key={change.number} className="border-line border-b py-1">
            <Link className="hover:underline" to={`/logbook/${change.number}${writeQuestion(question)}`}>
              {change.note || `Change ${change.number}`}
            </Link>{' '}
            <span className="text-ink2 text-[13px]">until {formatInstant(change.until, zone)} at the latest</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** All settings of an account as lines of text, by app. */
export function settingsText(account: AccountView, rows: AccountSetting[], apps: Map<string, string>): string {
  const lines = [`${account.displayName}, ${account.userName}`, account.path.map((u) => u.name).join(' › ')];
  const sorted = [...rows].sort(
    (a, b) =>
      (apps.get(a.app ?? '') ?? '').localeCompare(apps.get(b.app ?? '') ?? '') || a.title.localeCompare(b.title),
  );
  sorted.forEach((row, i) => {
    if (row.app !== sorted[i - 1]?.app || i === 0) lines.push('', apps.get(row.app ?? '') ?? 'Other');
    const needs = row.blockedBy.length > 0 ? ` (blocked; needs: ${joinList(row.blockedBy)})` : '';
    lines.push(`  ${row.title}: ${row.value}${needs}`);
  });
  return `${lines.join('\n')}\n`;
}

/** Takes all settings along: as text, as comma-separated values, on paper. */
function TakeSettings({ account, rows }: { account: AccountView; rows: AccountSetting[] }) {
  const catalogue = useCatalogue();
  const [question] = useQuestion();
  const [said, setSaid] = useState('');
  const apps = new Map(catalogue.data?.apps.map((a) => [a.id, a.name]));
  const draft = draftOf(question.when);
  const csv = new URLSearchParams({ format: 'csv' });
  if (draft !== undefined) csv.set('draft', String(draft));
  else if (question.when) csv.set('at', question.when);
  if (question.where) csv.set('workspace', question.where.id);
  const take = async () =>
    setSaid((await copy(settingsText(account, rows, apps))) ? `${count(rows.length, 'setting')} copied` : NOT_COPIED);
  return (
    <div className="no-print flex flex-wrap items-center gap-2">
      <span role="status" className="text-ink2 text-[13px]">
        {said}
      </span>
      <button className="button" onClick={() => void take()}>
        Copy all settings as text
      </button>
      <a className="button" href={`/api/v1/accounts/${encodeURIComponent(account.id)}/settings?${csv.toString()}`}>
        As CSV
      </a>
      <button className="button" onClick={() => window.print()}>
        Print
      </button>
    </div>
  );
}

/** All settings, on paper alone: on screen they stand in the column at the left. */
function PrintedSettings({ rows }: { rows: AccountSetting[] }) {
  return (
    <table className="print-only mt-4 w-full text-left text-[12px]">
      <caption className="text-left font-semibold">All settings</caption>
      <tbody>
        {[...rows]
          .sort((a, b) => a.title.localeCompare(b.title))
          .map((row) => (
            <tr key={row.key}>
              <td>{row.title}</td>
              <td>{row.value}</td>
              <td>{row.blockedBy.length > 0 ? `needs ${joinList(row.blockedBy)}` : ''}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
