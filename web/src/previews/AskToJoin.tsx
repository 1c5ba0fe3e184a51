import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { unwrapAs, api, problemOf, type Edit, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { useSession } from '../parts/queries';
import { copy, NOT_COPIED } from '../text/clipboard';
import { now } from '../text/clock';
import { count, formatNumber } from '../text/words';
import type { RingLine } from './queries';

type Member = Schemas['RingMember'];

/** So many are marked, or copied, at once. */
const MOST = 5000;
const PAGE = 5000;

/** The edit that marks accounts as asked to join a ring. */
export function asking(ring: string, accounts: string[], text: string, by: string, at: string): Edit {
  const edits = accounts.map((account) => ({
    kind: 'ask-to-join',
    account,
    ring,
    at,
    ...(by === '' ? {} : { by }),
    ...(text.trim() === '' ? {} : { text: text.trim() }),
  }));
  return (edits.length === 1 ? edits[0] : { kind: 'batch', edits }) as Edit;
}

async function put(text: string) {
  if (!(await copy(text))) throw new Error(`${NOT_COPIED}.`);
}

/** Asks those who may and have not consented: marked as asked, with a text of one's own; text and addresses can be copied. */
export function AskToJoin(props: { ring: RingLine; by: string; onEdit: (edits: Edit[]) => Promise<boolean> }) {
  const { ring, by } = props;
  const after = useAfterDraft();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const mails = useSession().data?.mails ?? false;
  const unasked = ring.may - ring.did - ring.asked - ring.declined;
  /** Those who may and are such, from all pages, so many at most. */
  const members = async (such: (member: Member) => boolean): Promise<Member[]> => {
    const found: Member[] = [];
    let next: string | undefined;
    do {
      const page = await unwrapAs<Schemas['Roster']>(
        api.GET('/api/v1/rings/{id}/accounts', {
          params: { path: { id: ring.id }, query: { which: 'may', limit: PAGE, after: next, ...after.query } },
        }),
      );
      found.push(...page.members.filter(such));
      next = page.next ?? undefined;
    } while (next !== undefined && found.length < MOST);
    return found.slice(0, MOST);
  };
  const copyText = async () => {
    await put(text);
    return 'The text is copied.';
  };
  const copyAddresses = async () => {
    const whom = await members((m) => m.asked !== undefined && m.declined === undefined);
    await put(whom.map((m) => m.userName).join(', '));
    const copied = `${count(whom.length, 'address', 'addresses')} copied`;
    return whom.length < ring.asked
      ? `${copied}, of ${formatNumber(ring.asked)}; the list as CSV has all.`
      : `${copied}.`;
  };
  const mark = async () => {
    const whom = await members((m) => m.asked === undefined && m.declined === undefined);
    const accounts = whom.map((m) => m.account);
    if (accounts.length > 0) await props.onEdit([asking(ring.id, accounts, text, by, now())]);
    return '';
  };
  // One for all, so that what the last press came to is all that is said.
  const pressed = useMutation({ mutationFn: (act: () => Promise<string>) => act() });
  const pending = pressed.isPending;
  const said = pending ? 'Looking them up…' : problemOf(pressed.error) || pressed.data;
  if (!open)
    return (
      <button className="quiet mt-2 block" onClick={() => setOpen(true)}>
        Ask to join
      </button>
    );
  return (
    <section aria-label="Ask to join" className="bg-paper border-line mt-3 border p-3">
      <div className="flex items-center gap-3">
        <h3 className="font-semibold">Ask to join</h3>
        <button className="button ml-auto" onClick={() => setOpen(false)}>
          Close
        </button>
      </div>
      <p className="text-ink2 text-[13px]">
        {[
          ring.asked > 0 && `${count(ring.asked, 'account')} asked and not answered`,
          ring.declined > 0 && `${count(ring.declined, 'account')} said no`,
          unasked > 0 ? `${count(unasked, 'account')} not asked yet` : 'everyone who may was asked',
        ]
          .filter(Boolean)
          .join('; ')}
        .{mails && ' Whoever is marked is mailed the text when the draft is published.'}
      </p>
      <textarea
        className="field mt-2 h-auto w-full py-1"
        rows={3}
        aria-label="The text"
        placeholder="What you would like them to know: what it is, that it is unfinished, how they join"
        value={text}
        maxLength={4000}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button
          className="button button-strong"
          disabled={pending || unasked <= 0}
          onClick={() => pressed.mutate(mark)}
        >
          {unasked > 0 ? `Mark ${count(Math.min(unasked, MOST), 'account')} as asked` : 'Nobody is left to ask'}
        </button>
        <button className="quiet" disabled={pending || text.trim() === ''} onClick={() => pressed.mutate(copyText)}>
          Copy the text
        </button>
        <button className="quiet" disabled={pending || ring.asked === 0} onClick={() => pressed.mutate(copyAddresses)}>
          Copy their addresses
        </button>
        <span role="status" className="text-ink2 text-[13px]">
          {said}
        </span>
      </div>
    </section>
  );
}
