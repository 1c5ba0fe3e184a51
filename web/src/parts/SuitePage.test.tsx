import { act, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { SuitePage } from './SuitePage';

const SUITE = 'http://127.0.0.1:1';

afterEach(() => vi.useRealTimers());

const show = async () => {
  vi.useFakeTimers({ shouldAdvanceTime: true });
  serve({ 'GET /session': () => ({ author: 'Ivo Tarn', change: 3, suite: SUITE, mails: false }) });
  render(
    <Around at="/their?who=account:mirela.osk">
      <SuitePage who="mirela.osk" title="Now" />
    </Around>,
  );
  return screen.findByTitle<HTMLIFrameElement>('Now');
};
const pass = (ms: number) =>
  act(() => {
    vi.advanceTimersByTime(ms);
  });

it('says that the suite does not answer, and tries again', async () => {
  await show();
  pass(9000);
  expect(screen.getByRole('alert')).toHaveTextContent('The suite at 127.0.0.1:1 does not answer.');
  expect(screen.queryByTitle('Now')).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(screen.getByTitle('Now')).toBeInTheDocument();
  pass(9000);
  expect(screen.getByRole('alert')).toBeInTheDocument();
});

it('leaves a page alone that has said how it stands', async () => {
  const frame = await show();
  const controls = [{ key: 'chat.private', title: 'Private chats', app: 'chat', shown: 'absent', words: 'Off' }];
  act(() => {
    window.dispatchEvent(
      new MessageEvent('message', {
        origin: SUITE,
        source: frame.contentWindow,
        data: { kind: 'suite-page', app: 'chat', controls },
      }),
    );
  });
  expect(screen.getByText('Private chats')).toBeInTheDocument();
  pass(20_000);
  expect(screen.queryByRole('alert')).toBeNull();
  expect(screen.getByTitle('Now')).toBe(frame);
});
