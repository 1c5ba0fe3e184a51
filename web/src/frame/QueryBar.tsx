import { Popover } from 'radix-ui';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Session } from '../api/client';
import { useAccount, useCatalogue, useAudienceName } from '../parts/queries';
import { DraftList } from './DraftList';
import { useDraft } from '../draft/draft';
import { useSettlingChanges } from '../parts/settling';
import { formatInstant, wallClock, formatWhen } from '../text/dates';
import { FreeTextSearch, whoOfHit } from '../parts/FreeTextSearch';
import { DateField } from '../parts/DateField';
import { SearchBox, hitOption } from '../parts/SearchBox';
import { isTyping } from './KeyboardShortcuts';
import { EVERYONE, draftOf, useQuestion, type Question } from '../question/question';
import type { Theme } from './theme';
import { PopoverPanel } from '../parts/PopoverPanel';
import { clock, now } from '../text/clock';
import { Alert } from '../parts/Alert';

/** The question that everything below answers: who, what, where, when. */
export function QueryBar(props: { session?: Session; theme: Theme; onTheme: (theme: Theme) => void }) {
  const [question, ask] = useQuestion();
  const who = useAccount(question);
  const crowd = useAudienceName(question);
  const catalogue = useCatalogue();
  const setting = catalogue.data?.settings.find((s) => s.key === question.what?.id);
  const zone = props.session?.organisation?.timeZone ?? 'UTC';
  const { draft } = useDraft();
  const asked = draftOf(question.when);
  const draftName = asked === undefined ? undefined : `after ${(draft?.id === asked && draft.name) || 'the draft'}`;
  const workspace = who.data?.workspace ?? (question.where ? question.where.id : undefined);
  return (
    <header className="bg-sheet border-line no-print flex h-[54px] shrink-0 items-center gap-x-5 border-b pr-4">
      <div className="flex w-[92px] shrink-0 items-center gap-2 pl-3">
        <svg width="17" height="26" viewBox="0 0 17 26" aria-hidden>
          <path d="M2 25 5 1M12 25 15 1M3 20h10M4.6 8h10" stroke="var(--ink)" strokeWidth="2" fill="none" />
          <path d="M3.6 14h10.4" stroke="var(--decide)" strokeWidth="4" />
        </svg>
        <span className="font-display text-[13px] leading-[15px] font-bold">
          Lean
          <br />
          Ladder
        </span>
      </div>
      <div role="group" aria-label="Question" className="flex min-w-0 flex-1 items-center gap-x-4">
        <Slot
          word="Who"
          value={who.data?.displayName ?? crowd ?? (question.who && who.isError ? 'not found' : undefined)}
          empty="somebody"
        >
          {(close) => (
            <SearchBox
              autoFocus
              label="Who"
              placeholder="A person, a room, a unit, a group, everyone"
              kinds="account,unit,group,everyone"
              empty={
                <button
                  className="quiet mt-1"
                  onClick={() => {
                    ask({ ...question, who: EVERYONE }, '/ladder');
                    close();
                  }}
                >
                  Everyone
                </button>
              }
              options={(hits) =>
                hits.map((hit) =>
                  hitOption(hit, () => {
                    ask({ ...question, who: whoOfHit(hit) }, '/ladder');
                    close();
                  }),
                )
              }
            />
          )}
        </Slot>
        <Slot
          word="What"
          value={setting?.title ?? (question.what && catalogue.isSuccess ? 'not in the catalogue' : undefined)}
          empty="some setting"
        >
          {(close) => (
            <SearchBox
              autoFocus
              label="What"
              placeholder="A setting, by any word for it"
              kinds="setting"
              options={(hits) =>
                hits.map((hit) =>
                  hitOption(hit, () => {
                    ask({ ...question, what: { id: hit.id } }, '/ladder');
                    close();
                  }),
                )
              }
            />
          )}
        </Slot>
        <Slot word="Where" value={workspace} empty="no particular workspace">
          {(close) => (
            <>
              <SearchBox
                autoFocus
                label="Where"
                placeholder="As if working in this workspace"
                kinds="workspace"
                options={(hits) =>
                  hits.map((hit) =>
                    hitOption(hit, () => {
                      ask({ ...question, where: { id: hit.id } });
                      close();
                    }),
                  )
                }
              />
              {question.where && (
                <button
                  className="quiet mt-2"
                  onClick={() => {
                    ask({ ...question, where: undefined });
                    close();
                  }}
                >
                  No particular workspace
                </button>
              )}
            </>
          )}
        </Slot>
        <Slot word="When" value={question.when && (draftName ?? formatWhen(question.when, zone))} empty="now">
          {(close) => <When question={question} zone={zone} ask={ask} close={close} />}
        </Slot>
      </div>
      <AskAnything />
      <DraftList zone={zone} />
      <button
        className="text-ink2 hover:text-ink px-1"
        aria-label={props.theme === 'dark' ? 'Light theme' : 'Dark theme'}
        title={props.theme === 'dark' ? 'Light theme' : 'Dark theme'}
        onClick={() => props.onTheme(props.theme === 'dark' ? 'light' : 'dark')}
      >
        <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
          <circle cx="8" cy="8" r="6.2" fill="none" stroke="currentColor" strokeWidth="1.6" />
          <path d="M8 1.8a6.2 6.2 0 0 1 0 12.4Z" fill="currentColor" />
        </svg>
      </button>
      {props.session && (
        <span
          className="max-w-[12ch] shrink-0 truncate xl:max-w-[150px]"
          title={`Changes are published as ${props.session.author}`}
        >
          {props.session.author}
        </span>
      )}
    </header>
  );
}

function Slot(props: { word: string; value?: string; empty: string; children: (close: () => void) => ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="group flex min-w-0 items-baseline gap-1.5 py-2 text-left last:shrink-0">
        <span className="text-ink2 text-[13px]">{props.word}</span>{' '}
        <span
          className={
            props.value
              ? 'border-ink group-hover:border-decide truncate border-b-2 text-[15px] font-semibold'
              : 'border-line2 text-ink2 group-hover:text-ink truncate border-b-2 border-dotted text-[15px]'
          }
        >
          {props.value ?? props.empty}
        </span>
      </Popover.Trigger>
      <PopoverPanel label={props.word} align="start" className="w-[380px] p-2">
        {props.children(() => setOpen(false))}
      </PopoverPanel>
    </Popover.Root>
  );
}

function When(props: { question: Question; zone: string; ask: (q: Question) => void; close: () => void }) {
  const { draft } = useDraft();
  const settled = useSettlingChanges().data?.until;
  const asked = props.question.when;
  const when = draftOf(asked) === undefined ? asked : undefined;
  const [day, setDay] = useState(when && !when.includes('T') ? when : undefined);
  const [instant, setInstant] = useState(when?.includes('T') ? when : undefined);
  const [wrong, setWrong] = useState('');
  const ask = (next: string | undefined) => {
    props.ask({ ...props.question, when: next });
    props.close();
  };
  return (
    <div className="space-y-2">
      <div className="flex gap-2">
        <button className="button flex-1 justify-center" onClick={() => ask(undefined)}>
          Now
        </button>
        {draft && draft.items.length > 0 && (
          <button
            className="button border-draft text-draft flex-1 justify-center font-semibold"
            onClick={() => ask(`draft:${draft.id}`)}
          >
            After {draft.name || 'this draft'}
          </button>
        )}
        {settled && (
          <button className="button flex-1 justify-center" onClick={() => ask(settled)}>
            When settled, {formatInstant(settled, props.zone)}
          </button>
        )}
      </div>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const today = wallClock(now(), props.zone).slice(0, 10);
          if (day === undefined || day > today) setWrong('Type or pick a day that has come.');
          else ask(day);
        }}
      >
        <p className="text-[13px]">The end of a past day</p>
        <div className="mt-1 flex items-start gap-2">
          <DateField
            label="The end of a past day"
            className="min-w-0 flex-1"
            zone={props.zone}
            of="day"
            side="past"
            value={day}
            onChange={setDay}
          />
          <button className="button">Ask for that day</button>
        </div>
      </form>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (instant === undefined) setWrong('Type or pick a day and a time.');
          else if (Date.parse(instant) <= clock().getTime())
            setWrong('This has passed already; take an instant to come, or a day above.');
          else ask(instant);
        }}
      >
        <p className="text-[13px]">An instant to come</p>
        <div className="mt-1 flex items-start gap-2">
          <DateField
            label="An instant to come"
            className="min-w-0 flex-1"
            zone={props.zone}
            of="instant"
            side="future"
            value={instant}
            onChange={setInstant}
          />
          <button className="button">Ask for then</button>
        </div>
      </form>
      <p className="text-ink2 text-[13px]">By the clock of {props.zone.replaceAll('_', ' ')}.</p>
      <Alert>{wrong}</Alert>
    </div>
  );
}

/** One field over everything: free typing fills the slots, and policies open. */
function AskAnything() {
  const [open, setOpen] = useState(false);
  const asked = useRef(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== '/' || isTyping(event)) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="text-ink2 hover:text-ink flex items-center gap-1.5 whitespace-nowrap">
        <kbd className="border-line2 bg-well rounded border px-1.5 font-sans text-[13px]">/</kbd>
        <span className="hidden text-[13px] lg:inline">ask anything</span>
        <span className="sr-only lg:hidden">ask anything</span>
      </Popover.Trigger>
      <PopoverPanel
        label="Ask anything"
        offset={6}
        className="w-[440px] p-2"
        onCloseAutoFocus={(event) => {
          // What was asked is answered in the view: keys go on from there.
          if (!asked.current) return;
          asked.current = false;
          event.preventDefault();
          document.getElementById('view')?.focus({ preventScroll: true });
        }}
      >
        <FreeTextSearch
          autoFocus
          onAsked={() => {
            asked.current = true;
            setOpen(false);
          }}
        />
      </PopoverPanel>
    </Popover.Root>
  );
}
