import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { Problem } from '../api/client';
import type { PolicyForm } from './policyDiff';
import { usePolicyForm } from './usePolicyForm';

const sheet = (name: string): PolicyForm => ({
  id: 'p1',
  name,
  description: '',
  paused: false,
  owner: '',
  review: '',
  lines: [],
  assignments: [],
});

function opened(stage: () => Promise<Problem | undefined>) {
  return renderHook(({ stands, current }) => usePolicyForm(stands, current, stage), {
    initialProps: { stands: sheet('House rules'), current: true },
  });
}

it('shows what the draft holds once what was typed is staged, also when it was undone before it could be shown', async () => {
  const stage = vi.fn(() => Promise.resolve(undefined));
  const hook = opened(stage);
  act(() => hook.result.current.change(sheet('Ship rules')));
  expect(hook.result.current.sheet.name).toBe('Ship rules');
  await waitFor(() => expect(stage).toHaveBeenCalledTimes(1));
  hook.rerender({ stands: sheet('House rules'), current: false });
  expect(hook.result.current.sheet.name).toBe('Ship rules');
  hook.rerender({ stands: sheet('House rules'), current: true });
  expect(hook.result.current.sheet.name).toBe('House rules');
});

it('keeps what was refused, with the reason, whatever the draft holds', async () => {
  const problem = { status: 409, title: 'Draft moved', detail: 'Somebody else altered it.' } as Problem;
  const hook = opened(() => Promise.resolve(problem));
  act(() => hook.result.current.change(sheet('Ship rules')));
  await waitFor(() => expect(hook.result.current.problem?.problem).toBe(problem));
  hook.rerender({ stands: sheet('House rules'), current: false });
  hook.rerender({ stands: sheet('House rules'), current: true });
  expect(hook.result.current.sheet.name).toBe('Ship rules');
});

it('stages what was typed while the first was under way after it', async () => {
  let done: (problem: undefined) => void = () => {};
  const stage = vi.fn(() => new Promise<undefined>((resolve) => (done = resolve)));
  const hook = opened(stage);
  act(() => hook.result.current.change(sheet('Ship rules')));
  await waitFor(() => expect(stage).toHaveBeenCalledTimes(1));
  act(() => hook.result.current.change(sheet('Ship rules 2')));
  await act(async () => {
    done(undefined);
    await Promise.resolve();
  });
  await waitFor(() => expect(stage).toHaveBeenCalledTimes(2));
  expect(hook.result.current.sheet.name).toBe('Ship rules 2');
});
