import { Popover } from 'radix-ui';
import { useEffect, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { Draft } from '../api/client';
import { isTyping } from './KeyboardShortcuts';
import { useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';
import { useDraft } from '../draft/draft';
import { impactText } from '../draft/impactText';
import { DraftEdits } from '../parts/DraftEdits';
import { PopoverPanel } from '../parts/PopoverPanel';

/** After so long a press that has no answer yet gets a sign that it was heard. */
const LATE_MS = 80;

/** The bar along the bottom while a draft has edits: what they are, what they would change, and what to do with them. */
export function DraftBar() {
  const drafting = useDraft();
  const { draft, notice, undo, redo } = drafting;
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [question] = useQuestion();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null;
      if (target?.matches('input, textarea, select, [contenteditable]')) return;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
      }
      if (event.key === 'r' && !isTyping(event) && draft && draft.items.length > 0)
        void navigate(`/review${writeQuestion(question)}`, { state: { from: pathname } });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [undo, redo, draft, navigate, pathname, question]);
  const there = draft && (draft.items.length > 0 || draft.redoable);
  const waiting = useLate(drafting.busy);
  if (!there) {
    const text = notice || (waiting ? 'Sent; waiting for the server…' : '');
    return text ? <Notice text={text} /> : null;
  }
  const words = impactText(draft.ripple);
  const last = draft.items[draft.items.length - 1];
  const { troubled } = draft;
  const reading = pathname.startsWith('/review');
  return (
    <>
      {notice && <Notice text={notice} />}
      <div
        role="region"
        aria-label="Draft"
        className="border-draft bg-draft-ground text-on-draft no-print flex min-h-12 shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-t-[3px] py-1.5 pr-4 pl-3"
      >
        <input
          key={`${draft.id} ${draft.name}`}
          aria-label="Name of the draft"
          className="placeholder:text-on-draft max-w-[24vw] min-w-36 [field-sizing:content] rounded-[3px] border border-transparent bg-transparent px-2 py-1 font-semibold placeholder:opacity-80 hover:border-current focus:border-current"
          placeholder="Draft, unnamed"
          defaultValue={draft.name}
          title={draft.name}
          maxLength={200}
          onBlur={(e) => e.target.value !== draft.name && drafting.rename(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        <Edits draft={draft} />
        <span className="hidden min-w-0 flex-1 truncate lg:block" title={last?.words}>
          {last?.words}
        </span>
        <span data-testid="ripple" className="ml-auto lg:ml-0">
          {troubled > 0 && (
            <strong className="mr-3 underline">
              {troubled === 1 ? '1 edit conflicts' : `${count(troubled, 'edit')} conflict`}
            </strong>
          )}
          {waiting ? (
            <span role="status">Working it out…</span>
          ) : (
            <>
              <strong>{words.head}</strong>
              {words.parts && <> · {words.parts}</>}
            </>
          )}
        </span>
        <span className="ml-auto flex items-center gap-1">
          <TrayButton label="Undo" disabled={!draft.undoable} onPress={undo}>
            <path d="M5.5 4 2 7.5 5.5 11M2.5 7.5H10a4 4 0 0 1 0 8H6" />
          </TrayButton>
          <TrayButton label="Redo" disabled={!draft.redoable} onPress={redo}>
            <path d="M12.500 4 16 7.5 12.500 11M15.500 7.500H8a4 4 0 0 0 0 8h4" />
          </TrayButton>
          <button className="h-8 rounded-[3px] px-2 underline underline-offset-4" onClick={drafting.putAside}>
            Save for later
          </button>
          {!reading && draft.items.length > 0 && (
            <button
              className="bg-on-draft text-draft-ground h-8 rounded-[3px] px-4 font-semibold"
              onClick={() => void navigate(`/review${writeQuestion(question)}`, { state: { from: pathname } })}
            >
              Review
            </button>
          )}
        </span>
      </div>
    </>
  );
}

/** Whether something has been so for long enough that people would wonder. */
function useLate(so: boolean): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => setLate(so), so ? LATE_MS : 0);
    return () => window.clearTimeout(timer);
  }, [so]);
  return late && so;
}

function Notice({ text }: { text: string }) {
  return (
    <p role="status" className="border-draft bg-paper border-t px-5 py-1.5">
      {text}
    </p>
  );
}

function TrayButton(props: { label: string; disabled: boolean; onPress: () => void; children: React.ReactNode }) {
  return (
    <button
      className="grid size-8 place-items-center rounded-[3px] disabled:opacity-40"
      aria-label={props.label}
      title={props.label}
      disabled={props.disabled}
      onClick={props.onPress}
    >
      <svg width="18" height="18" viewBox="0 0 18 18" fill="none" stroke="currentColor" strokeWidth="1.8" aria-hidden>
        {props.children}
      </svg>
    </button>
  );
}

/** How many edits, and all of them in words. */
function Edits({ draft }: { draft: Draft }) {
  const { discard } = useDraft();
  const [sure, setSure] = useState(false);
  return (
    <Popover.Root onOpenChange={() => setSure(false)}>
      <Popover.Trigger className="underline decoration-dotted underline-offset-4" data-testid="edits">
        {draft.edits === 0 ? 'no edit' : count(draft.edits, 'edit')}
      </Popover.Trigger>
      <PopoverPanel
        label="Edits of the draft"
        side="top"
        align="start"
        offset={10}
        className="max-h-[60vh] w-[560px] overflow-y-auto p-3"
      >
        <DraftEdits draft={draft} />
        {sure ? (
          <p className="mt-2 flex items-center gap-2">
            It cannot be brought back.
            <button className="button" onClick={discard}>
              Throw {count(draft.edits, 'edit')} away
            </button>
            <button className="button" onClick={() => setSure(false)}>
              Keep
            </button>
          </p>
        ) : (
          <button className="quiet mt-2 text-[13px]" onClick={() => setSure(true)}>
            Throw the draft away
          </button>
        )}
      </PopoverPanel>
    </Popover.Root>
  );
}
