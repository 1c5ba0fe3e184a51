import { useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { RefusedError, unwrap, api, type Draft, type Edit, type Problem, type PublishedReceipt } from '../api/client';
import { draftOf, useQuestion } from '../question/question';
import { markPublishing } from './ownPublishes';

/** The draft that this browser edits, and what can be done with it. */
export interface DraftSession {
  /** The id of the draft as it is now, also right after the first edit has begun it. */
  currentId: () => number | undefined;
  /** Whether the draft is still on its way from the server. */
  loading: boolean;
  draft?: Draft;
  /** Something happened to the draft that its editor did not do. */
  notice: string;
  /** Shows a quiet notice until the next edit. */
  tell: (notice: string) => void;
  /** Stages edits as one step. Gives what is wrong when they are refused; then nothing of them is staged. */
  stage: (edits: Edit[]) => Promise<Problem | undefined>;
  /** Stages edits as one step that add something. Gives the id that the server gave to the first new thing, or what is wrong. */
  add: (edits: Edit[]) => Promise<string | Problem>;
  undo: () => void;
  redo: () => void;
  rename: (name: string) => void;
  choose: (index: number, keep: 'mine' | 'theirs') => void;
  /** Leaves the draft as it is and goes on without one. */
  putAside: () => void;
  takeUp: (id: number) => void;
  /** Has the draft no longer publish itself. */
  unschedule: () => void;
  /** Begins a draft that takes a change back, or one edit of it. */
  takeBack: (change: number, edit?: number) => Promise<Problem | undefined>;
  /** Begins a draft that brings a policy back to what it was at an instant. */
  restore: (policy: { id: string; name: string }, at: string) => Promise<Problem | undefined>;
  discard: () => void;
  /**
   * Publishes the draft, or has it publish itself at an instant. Gives the receipt, or the draft that waits; refused with what is
   * wrong.
   */
  publish: (note: string, at: string | null) => Promise<PublishedReceipt | Draft>;
  /** Whether something was sent of which no answer is here yet. */
  busy: boolean;
  /** Takes in a draft as the server told it. */
  took: (draft: Draft) => void;
}

const KEY = 'current draft';
const Context = createContext<DraftSession | undefined>(undefined);

/** The draft of this browser; one current, kept by the server. */
export function DraftProvider({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const [id, setId] = useState<number | undefined>(() => {
    const text = localStorage.getItem(KEY);
    return text ? Number(text) : undefined;
  });
  const [notice, setNotice] = useState('');
  const [sent, setSent] = useState(0);
  const busy = sent > 0;
  const [question, ask] = useQuestion();
  const published = useRef<number | undefined>(undefined);
  const latest = useRef<Draft | undefined>(undefined);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const become = useCallback((next: number | undefined) => {
    if (next === undefined) localStorage.removeItem(KEY);
    else localStorage.setItem(KEY, String(next));
    if (latest.current?.id !== next) latest.current = undefined;
    setId(next);
  }, []);
  const took = useCallback(
    (draft: Draft) => {
      latest.current = draft;
      queries.setQueryData(['draft', draft.id], draft);
      become(draft.id);
    },
    [queries, become],
  );
  const known = useQuery<Draft, RefusedError>({
    queryKey: ['draft', id],
    queryFn: async () => {
      try {
        const draft = await unwrap(api.GET('/api/v1/drafts/{id}', { params: { path: { id: id ?? 0 } } }));
        if (!latest.current || draft.id !== latest.current.id || draft.version >= latest.current.version)
          latest.current = draft;
        return latest.current;
      } catch (error) {
        if (error instanceof RefusedError && error.problem.status === 404) {
          setNotice(error.problem.detail);
          become(undefined);
        }
        throw error;
      }
    },
    enabled: id !== undefined,
  });

  useEffect(() => {
    // First the question lets go of a draft that was published, then this browser does, and when nothing that is shown asks for it
    // any more, everything is asked again.
    if (published.current === undefined || draftOf(question.when) === published.current) return;
    if (id === published.current) return become(undefined);
    published.current = undefined;
    void queries.invalidateQueries();
  });

  /** One after the other, each with the version that the one before left. */
  const inTurn = useCallback(
    (act: (draft: Draft) => Promise<Draft>, begin: boolean) => {
      const turn = async (): Promise<Problem | undefined> => {
        for (let tries = 0; ; tries++) {
          try {
            const current = latest.current;
            const draft =
              current ??
              (id !== undefined
                ? await unwrap(api.GET('/api/v1/drafts/{id}', { params: { path: { id } } }))
                : begin
                  ? await unwrap(api.POST('/api/v1/drafts', { body: {} }))
                  : undefined);
            if (!draft) return undefined;
            latest.current = draft;
            took(await act(draft));
            return undefined;
          } catch (error) {
            if (!(error instanceof RefusedError)) throw error;
            const moved = error.problem.type === 'urn:lean-ladder:draft-moved';
            if (moved && tries === 0 && latest.current) {
              // Somebody else edited the draft: what they did is taken in, and the edit is tried on top of it.
              const path = { id: latest.current.id };
              latest.current = await unwrap(api.GET('/api/v1/drafts/{id}', { params: { path } }));
              setNotice(`Somebody else edited this draft too; their edits are taken in.`);
            } else {
              if (error.problem.status === 404) become(undefined);
              return error.problem;
            }
          }
        }
      };
      setSent((n) => n + 1);
      const next = queue.current.then(turn, turn).finally(() => setSent((n) => n - 1));
      queue.current = next;
      return next;
    },
    [id, took, become],
  );
  const quietly = useCallback(
    (act: (draft: Draft) => Promise<Draft>) =>
      void inTurn(act, false).then((problem) => problem && setNotice(problem.detail)),
    [inTurn],
  );
  const begin = useCallback(
    async (body: { name: string; takesBack?: number; edit?: number; restores?: { policy: string; at: string } }) => {
      try {
        took(await unwrap(api.POST('/api/v1/drafts', { body })));
        return undefined;
      } catch (error) {
        if (error instanceof RefusedError) return error.problem;
        throw error;
      }
    },
    [took],
  );
  const value = useMemo<DraftSession>(
    () => ({
      draft: id === undefined ? undefined : known.data,
      currentId: () => latest.current?.id,
      loading: id !== undefined && known.isPending,
      notice,
      stage: (edits) => {
        setNotice('');
        return inTurn(
          (d) =>
            unwrap(
              api.POST('/api/v1/drafts/{id}/edits', {
                params: { path: { id: d.id } },
                body: { version: d.version, edits },
              }),
            ),
          true,
        );
      },
      add: async (edits) => {
        setNotice('');
        let added: string | undefined;
        const problem = await inTurn(async (d) => {
          const after = await unwrap(
            api.POST('/api/v1/drafts/{id}/edits', {
              params: { path: { id: d.id } },
              body: { version: d.version, edits },
            }),
          );
          added = after.items.slice(d.items.length).find((item) => item.added)?.added ?? undefined;
          return after;
        }, true);
        if (problem) return problem;
        if (added === undefined) throw new Error('The draft adds nothing');
        return added;
      },
      undo: () =>
        quietly((d) =>
          unwrap(
            api.POST('/api/v1/drafts/{id}/undo', { params: { path: { id: d.id } }, body: { version: d.version } }),
          ),
        ),
      redo: () =>
        quietly((d) =>
          unwrap(
            api.POST('/api/v1/drafts/{id}/redo', { params: { path: { id: d.id } }, body: { version: d.version } }),
          ),
        ),
      rename: (name) =>
        quietly((d) =>
          unwrap(
            api.PATCH('/api/v1/drafts/{id}', { params: { path: { id: d.id } }, body: { version: d.version, name } }),
          ),
        ),
      unschedule: () =>
        quietly((d) =>
          unwrap(
            api.PATCH('/api/v1/drafts/{id}', {
              params: { path: { id: d.id } },
              body: { version: d.version, due: null },
            }),
          ),
        ),
      choose: (index, keep) =>
        quietly((d) =>
          unwrap(
            api.POST('/api/v1/drafts/{id}/choose', {
              params: { path: { id: d.id } },
              body: { version: d.version, index, keep },
            }),
          ),
        ),
      putAside: () => become(undefined),
      takeUp: (next) => {
        setNotice('');
        become(next);
      },
      takeBack: (change, edit) =>
        begin({
          name: edit === undefined ? `Undo of change ${change}` : `Undo of an edit of change ${change}`,
          takesBack: change,
          edit,
        }),
      restore: (policy, at) =>
        begin({ name: `${policy.name} as it was`.slice(0, 200), restores: { policy: policy.id, at } }),
      discard: () => {
        const gone = latest.current;
        if (!gone) return;
        void api
          .DELETE('/api/v1/drafts/{id}', { params: { path: { id: gone.id }, query: { version: gone.version } } })
          .then(() => queries.invalidateQueries({ queryKey: ['drafts'] }));
        become(undefined);
      },
      publish: async (note, at) => {
        await queue.current;
        const draft = latest.current;
        if (!draft) throw new Error('There is no draft to publish');
        const given = await markPublishing(
          draft.id,
          () =>
            unwrap(
              api.POST('/api/v1/drafts/{id}/publish', {
                params: { path: { id: draft.id } },
                body: { version: draft.version, note, at },
              }),
            ),
          (told) => ('number' in told ? told.number : undefined),
        );
        if ('number' in given) {
          published.current = draft.id;
          if (draftOf(question.when) === draft.id) ask({ ...question, when: undefined });
          else become(undefined);
        } else took(given);
        return given;
      },
      busy,
      tell: setNotice,
      took,
    }),
    [id, known.data, known.isPending, notice, busy, question, ask, inTurn, quietly, begin, become, took, queries],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useDraft(): DraftSession {
  const value = useContext(Context);
  if (!value) throw new Error('There is no draft provider above');
  return value;
}

/** What to ask the server with, to be answered for the estate after the current draft; and what tells such answers apart. */
export function useAfterDraft(): { query: { draft?: number }; key: (number | undefined)[] } {
  const { draft } = useDraft();
  const there = draft && draft.items.length > 0;
  return useMemo(
    () =>
      there
        ? { query: { draft: draft.id }, key: [draft.id, draft.version, draft.change] }
        : { query: {}, key: [undefined, undefined, undefined] },
    [there, draft],
  );
}
