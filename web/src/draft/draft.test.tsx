import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { Edit } from '../api/client';
import { Around, draftOf } from '../around.test-env';
import { Status, serve, type Sent } from '../fakeServer.test-env';
import { useAfterDraft, useDraft } from './draft';

const edit = (policy: string): Edit => ({ kind: 'remove-policy', policy });
const drafting = () => renderHook(() => ({ ...useDraft(), after: useAfterDraft() }), { wrapper: Around });
const versions = (sent: Sent[]) =>
  sent.filter((s) => s.path.endsWith('/edits')).map((s) => (s.body as { version: number }).version);

it('begins a draft with the first edit and keeps it for this browser', async () => {
  const sent = serve({
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': () => draftOf(2, ['Night watch is taken away']),
    'GET /drafts/7': () => draftOf(2, ['Night watch is taken away']),
  });
  const hook = drafting();
  expect(hook.result.current.after.query).toEqual({});
  await act(() => hook.result.current.stage([edit('night-watch')]));
  expect(sent.map((s) => s.method + s.path).slice(0, 2)).toEqual(['POST/drafts', 'POST/drafts/7/edits']);
  expect(sent[1]?.body).toEqual({ version: 1, edits: [edit('night-watch')] });
  expect(localStorage.getItem('current draft')).toBe('7');
  await waitFor(() => expect(hook.result.current.draft?.items).toHaveLength(1));
  expect(hook.result.current.after.query).toEqual({ draft: 7 });
});

it('sends edits one after the other, each with the version that the one before left', async () => {
  let version = 4;
  localStorage.setItem('current draft', '7');
  const sent = serve({
    'GET /drafts/7': () => draftOf(version),
    'POST /drafts/7/edits': () => draftOf(++version, ['x']),
  });
  const hook = drafting();
  await act(() => Promise.all(['a', 'b', 'c'].map((p) => hook.result.current.stage([edit(p)]))));
  expect(versions(sent)).toEqual([4, 5, 6]);
});

it('takes in what somebody else did to the draft and tries once more, and says so', async () => {
  let version = 4;
  localStorage.setItem('current draft', '7');
  const moved = new Status(409, { type: 'urn:lean-ladder:draft-moved', title: 'Moved', status: 409, detail: 'Moved.' });
  const sent = serve({
    'GET /drafts/7': () => draftOf(version, ['theirs']),
    'POST /drafts/7/edits': ({ body }) => {
      if ((body as { version: number }).version < 9) {
        version = 9;
        return moved;
      }
      return draftOf(10, ['theirs', 'mine']);
    },
  });
  const hook = drafting();
  let problem: unknown = 'none yet';
  await act(async () => (problem = await hook.result.current.stage([edit('a')])));
  expect(problem).toBeUndefined();
  expect(versions(sent)).toEqual([4, 9]);
  expect(hook.result.current.notice).toContain('Somebody else edited this draft too');
});

it('gives up when the draft moves again and again, and tells what is wrong', async () => {
  localStorage.setItem('current draft', '7');
  serve({
    'GET /drafts/7': () => draftOf(4),
    'POST /drafts/7/edits': () =>
      new Status(409, { type: 'urn:lean-ladder:draft-moved', title: 'Moved', status: 409, detail: 'It moved.' }),
  });
  const hook = drafting();
  let problem: { detail?: string } | undefined;
  await act(async () => (problem = await hook.result.current.stage([edit('a')])));
  expect(problem?.detail).toBe('It moved.');
});

it('leaves the draft as it is when an edit is refused', async () => {
  localStorage.setItem('current draft', '7');
  serve({
    'GET /drafts/7': () => draftOf(4, ['one']),
    'POST /drafts/7/edits': () =>
      new Status(422, {
        type: 'urn:lean-ladder:refused',
        title: 'Refused',
        status: 422,
        detail: 'There is no policy.',
      }),
  });
  const hook = drafting();
  await waitFor(() => expect(hook.result.current.draft).toBeDefined());
  let problem: { detail?: string } | undefined;
  await act(async () => (problem = await hook.result.current.stage([edit('a')])));
  expect(problem?.detail).toBe('There is no policy.');
  expect(hook.result.current.draft?.version).toBe(4);
});

it('says that the server does not answer, and keeps the draft', async () => {
  localStorage.setItem('current draft', '7');
  serve({});
  const hook = drafting();
  let problem: { detail?: string } | undefined;
  await act(async () => (problem = await hook.result.current.stage([edit('a')])));
  expect(problem?.detail).toContain('The server does not answer');
  expect(localStorage.getItem('current draft')).toBe('7');
});

it('lets go of a draft that is no more, and says why', async () => {
  localStorage.setItem('current draft', '7');
  serve({
    'GET /drafts/7': () =>
      new Status(404, {
        type: 'urn:lean-ladder:unknown',
        title: 'Unknown',
        status: 404,
        detail: 'Draft 7 was published.',
      }),
  });
  const hook = drafting();
  await waitFor(() => expect(hook.result.current.notice).toBe('Draft 7 was published.'));
  expect(localStorage.getItem('current draft')).toBeNull();
});

it('puts a draft aside and takes up another', async () => {
  localStorage.setItem('current draft', '7');
  serve({ 'GET /drafts/7': () => draftOf(4, ['one']), 'GET /drafts/8': () => draftOf(2, ['two', 'three'], { id: 8 }) });
  const hook = drafting();
  await waitFor(() => expect(hook.result.current.draft?.id).toBe(7));
  act(() => hook.result.current.putAside());
  expect(hook.result.current.draft).toBeUndefined();
  expect(hook.result.current.after.query).toEqual({});
  act(() => hook.result.current.takeUp(8));
  await waitFor(() => expect(hook.result.current.draft?.items).toHaveLength(2));
});

it('learns the id of a new policy from the server', async () => {
  localStorage.setItem('current draft', '7');
  serve({
    'GET /drafts/7': () => draftOf(4, ['one'], { policies: ['house-rules'] }),
    'POST /drafts/7/edits': () => {
      const after = draftOf(5, ['one', 'two'], { policies: ['house-rules', 'night-2'] });
      return { ...after, items: after.items.map((item, i) => (i === 1 ? { ...item, added: 'night-2' } : item)) };
    },
  });
  const hook = drafting();
  let added: unknown;
  await act(async () => {
    added = await hook.result.current.add([{ kind: 'add-policy', policy: { name: 'Night' }, below: null }]);
  });
  expect(added).toBe('night-2');
});

it('forgets a draft that it published before anybody asks for it again', async () => {
  localStorage.setItem('current draft', '7');
  const receipt = { number: 9, at: '2026-11-23T14:20:00Z', author: 'Ivo Tarn', proven: false, note: '' };
  const sent = serve({
    'GET /drafts/7': () => draftOf(4, ['one']),
    'POST /drafts/7/publish': () => ({ ...receipt, planned: null, late: false, ripple: {}, settling: [] }),
  });
  const hook = drafting();
  await waitFor(() => expect(hook.result.current.draft?.version).toBe(4));
  await act(() => hook.result.current.publish('why', null));
  expect(hook.result.current.draft).toBeUndefined();
  expect(localStorage.getItem('current draft')).toBeNull();
  expect(sent.filter((s) => s.method === 'GET')).toHaveLength(1);
});

it('sends a write again with the same key when its answer is lost', async () => {
  localStorage.setItem('current draft', '7');
  const keys: (string | null)[] = [];
  let lost = true;
  serve({
    'GET /drafts/7': () => draftOf(4, ['one']),
    'POST /drafts/7/edits': ({ key }) => {
      keys.push(key);
      if (lost) {
        lost = false;
        throw new TypeError('The connection went away');
      }
      return draftOf(5, ['one', 'two']);
    },
  });
  const hook = drafting();
  await act(() => hook.result.current.stage([edit('a')]));
  expect(keys).toHaveLength(2);
  expect(keys[0]).toMatch(/^[0-9a-f]{32}$/);
  expect(keys[1]).toBe(keys[0]);
});
