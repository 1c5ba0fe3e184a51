import { renderHook, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { PAGE, useMatrixWindow, type MatrixQuery } from './useMatrixWindow';

interface Window {
  from: number;
  count: number;
  firstColumn: number;
}

const ASKED: MatrixQuery = { settings: ['a', 'b'], rows: 'units', open: [], shut: [], filter: null };
const TOTAL = 500;

/** Rows named by their places, in an estate named by the draft. */
const rows = (body: unknown, draft: string | null) => {
  const { from, count, firstColumn } = body as Window;
  return {
    change: 3,
    total: TOTAL,
    firstColumn,
    rows: Array.from({ length: Math.min(count, TOTAL - from) }, (_, i) => ({
      kind: 'unit',
      id: `u${from + i}`,
      name: `${draft ?? 'now'} ${from + i}`,
      depth: 0,
      accounts: 1,
      openable: false,
      open: false,
      cells: [],
    })),
  };
};

const seen = (first: number, last: number, left = 0, draft?: number) =>
  renderHook(
    (props: { first: number; last: number; left: number; draft?: number }) =>
      useMatrixWindow(ASKED, { draft: props.draft }, props.draft, props.first, props.last, props.left),
    { initialProps: { first, last, left, draft }, wrapper: Around },
  );

it('asks for the pages in sight and half a page around them', async () => {
  const sent = serve({ 'POST /matrix': ({ body }) => rows(body, null) });
  const hook = seen(45, 70);
  await waitFor(() => expect(hook.result.current.rows.size).toBe(3 * PAGE));
  expect(sent.map((s) => (s.body as Window).from)).toEqual([0, PAGE, 2 * PAGE]);
  expect(hook.result.current.total).toBe(TOTAL);
  expect(hook.result.current.rows.get(47)?.row.name).toBe('now 47');
});

it('asks for no page twice while one scrolls to and fro', async () => {
  const sent = serve({ 'POST /matrix': ({ body }) => rows(body, null) });
  const hook = seen(0, 15);
  await waitFor(() => expect(hook.result.current.rows.size).toBe(PAGE));
  hook.rerender({ first: 200, last: 215, left: 0, draft: undefined });
  await waitFor(() => expect(hook.result.current.rows.has(210)).toBe(true));
  const asked = sent.length;
  hook.rerender({ first: 0, last: 15, left: 0, draft: undefined });
  expect(hook.result.current.rows.get(3)?.row.name).toBe('now 3');
  expect(sent).toHaveLength(asked);
});

it('keeps the rows as they were answered last until those after the draft have come', async () => {
  let answer: () => void = () => {};
  const late = new Promise<void>((resolve) => {
    answer = resolve;
  });
  serve({
    'POST /matrix': async ({ body, query }) => {
      if (query.has('draft')) await late;
      return rows(body, query.get('draft'));
    },
  });
  const hook = seen(0, 15);
  await waitFor(() => expect(hook.result.current.rows.size).toBe(PAGE));
  hook.rerender({ first: 0, last: 15, left: 0, draft: 7 });
  expect(hook.result.current.rows.get(3)?.row.name).toBe('now 3');
  answer();
  await waitFor(() => expect(hook.result.current.rows.get(3)?.row.name).toBe('7 3'));
});

it('asks for other columns when they come into sight, and says where the cells of a row begin', async () => {
  const sent = serve({ 'POST /matrix': ({ body }) => rows(body, null) });
  const hook = seen(0, 15, 3);
  await waitFor(() => expect(hook.result.current.rows.get(0)?.firstColumn).toBe(0));
  hook.rerender({ first: 0, last: 15, left: 40, draft: undefined });
  await waitFor(() => expect(hook.result.current.rows.get(0)?.firstColumn).toBe(32));
  expect(sent).toHaveLength(2);
});

it('tells what is wrong when the server does not answer', async () => {
  serve({});
  const hook = seen(0, 15);
  await waitFor(() => expect(hook.result.current.error?.message).toContain('The server does not answer'));
});
