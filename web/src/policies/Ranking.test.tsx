import { fireEvent, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { PolicyLine } from '../api/client';
import { Ranking } from './Ranking';

const policy = (id: string, more: Partial<PolicyLine> = {}): PolicyLine => ({
  id,
  name: `Policy ${id}`,
  description: null,
  live: true,
  statements: 2,
  for: 'everyone',
  reaches: 616,
  inWorkspaces: false,
  ...more,
});
const ORDER = [policy('a'), policy('b', { statements: 1, reaches: 0 }), policy('c', { live: false })];

function ranking(more: Partial<Parameters<typeof Ranking>[0]> = {}) {
  const onMove = vi.fn();
  const onOpen = vi.fn();
  render(<Ranking shown={ORDER} order={ORDER} movable touched={new Set()} onMove={onMove} onOpen={onOpen} {...more} />);
  return { onMove, onOpen };
}

const row = (id: string) => document.querySelector(`[data-policy=${id}]`) as HTMLElement;

it('reads each policy as a sentence, with whom it reaches', () => {
  ranking();
  expect(row('a')).toHaveTextContent('Policy a — 2 statements — for everyonereaches 616');
  expect(row('b')).toHaveTextContent('Policy b — 1 statement — for everyonenobody now');
  expect(row('c')).toHaveTextContent('paused');
});

it('is walked by arrow keys and moved with Alt', () => {
  const { onMove } = ranking();
  row('a').focus();
  fireEvent.keyDown(row('a'), { key: 'ArrowDown' });
  expect(row('b')).toHaveFocus();
  fireEvent.keyDown(row('b'), { key: 'ArrowUp', altKey: true });
  expect(onMove).toHaveBeenLastCalledWith('b', 0);
  fireEvent.keyDown(row('b'), { key: 'ArrowDown', altKey: true });
  expect(onMove).toHaveBeenLastCalledWith('b', 2);
});

it('moves nothing above the first or below the last', () => {
  const { onMove } = ranking();
  fireEvent.keyDown(row('a'), { key: 'ArrowUp', altKey: true });
  fireEvent.keyDown(row('c'), { key: 'ArrowDown', altKey: true });
  expect(onMove).not.toHaveBeenCalled();
});

it('keeps its places while it is filtered, and cannot be moved then', () => {
  const { onMove, onOpen } = ranking({ shown: ORDER.slice(2), movable: false });
  expect(screen.getByRole('button', { name: 'Move Policy c in the ranking' })).toBeDisabled();
  expect(screen.getByRole('button', { name: 'Move Policy c in the ranking' })).toHaveTextContent('3');
  fireEvent.keyDown(row('c'), { key: 'ArrowUp', altKey: true });
  expect(onMove).not.toHaveBeenCalled();
  fireEvent.click(row('c'));
  expect(onOpen).toHaveBeenCalledWith('c');
});
