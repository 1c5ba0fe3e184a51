import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { Hit } from '../api/client';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { EntityPicker } from './EntityPicker';

const hit = (id: string, title: string): Hit => ({ kind: 'group', id, title, context: 'group' });
const field = () => screen.getByRole('combobox', { name: 'Include' });
const type = (text: string) => fireEvent.change(field(), { target: { value: text } });
const press = (key: string) => fireEvent.keyDown(field(), { key });

function pick(refuse?: (hit: Hit) => string | undefined) {
  const onPick = vi.fn();
  render(
    <Around>
      <EntityPicker label="Include" kinds="group" refuse={refuse} onPick={onPick} />
    </Around>,
  );
  return onPick;
}

it('finds by what is typed and picks by arrow keys and Enter; then the field is empty again', async () => {
  const sent = serve({
    'GET /search': () => ({ hits: [hit('a', 'All officers'), hit('b', 'Bridge officers')], readings: [] }),
  });
  const onPick = pick();
  type('officers');
  await screen.findByRole('option', { name: /Bridge officers/ });
  expect(sent[0]?.query.get('q')).toBe('officers');
  expect(sent[0]?.query.get('kinds')).toBe('group');
  press('ArrowDown');
  press('Enter');
  expect(onPick).toHaveBeenCalledWith(expect.objectContaining({ id: 'b' }));
  expect(field()).toHaveValue('');
});

it('comes round from the last to the first', async () => {
  serve({ 'GET /search': () => ({ hits: [hit('a', 'All officers'), hit('b', 'Bridge officers')], readings: [] }) });
  const onPick = pick();
  type('o');
  await screen.findByRole('option', { name: /Bridge officers/ });
  press('ArrowUp');
  press('Enter');
  expect(onPick).toHaveBeenCalledWith(expect.objectContaining({ id: 'b' }));
});

it('never picks from the answer to what was typed before', async () => {
  let answer: (value: unknown) => void = () => {};
  const late = new Promise((resolve) => {
    answer = resolve;
  });
  serve({
    'GET /search': ({ query }) => (query.get('q') === 'a' ? { hits: [hit('a', 'All officers')], readings: [] } : late),
  });
  const onPick = pick();
  type('a');
  await screen.findByRole('option', { name: /All officers/ });
  type('captains');
  press('Enter');
  expect(onPick).not.toHaveBeenCalled();
  answer({ hits: [hit('c', 'Captains')], readings: [] });
  await screen.findByRole('option', { name: /Captains/ });
  press('Enter');
  expect(onPick).toHaveBeenCalledWith(expect.objectContaining({ id: 'c' }));
});

it('shows what cannot be picked with the reason, and does not pick it', async () => {
  serve({ 'GET /search': () => ({ hits: [hit('n', 'Company news')], readings: [] }) });
  const onPick = pick(() => 'A mailing group cannot be aimed at');
  type('news');
  const option = await screen.findByRole('option', { name: /Company news/ });
  expect(option).toHaveAttribute('aria-disabled', 'true');
  expect(option).toHaveTextContent('A mailing group cannot be aimed at');
  fireEvent.click(option);
  press('Enter');
  expect(onPick).not.toHaveBeenCalled();
});

it('says so when nothing fits, and when the server does not answer', async () => {
  serve({ 'GET /search': () => ({ hits: [], readings: [] }) });
  pick();
  type('zeppelin');
  await screen.findByText('Nothing fits “zeppelin”. Try another word for it, or fewer.');
  serve({});
  type('zeppelins');
  await waitFor(() => expect(screen.getByText(/The server does not answer/)).toBeInTheDocument());
});
