import userEvent from '@testing-library/user-event';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around, draftOf } from '../around.test-env';
import { Status, serve } from '../fakeServer.test-env';
import { PasteAccounts } from './PasteAccounts';

const EDIT = { kind: 'batch', edits: [] };
const REPORT = {
  fitting: 1,
  edit: EDIT,
  lines: [
    { line: 1, text: 'mirela.osk@skerrymore.example', name: 'Mirela Osk', verdict: 'fits', why: '' },
    { line: 2, text: 'nobody@skerrymore.example', name: null, verdict: 'unknown', why: 'No account has this address.' },
    { line: 3, text: 'Rui Mareda', name: null, verdict: 'ambiguous', why: 'Two accounts have this name.' },
  ],
};

function opened() {
  render(
    <Around>
      <PasteAccounts policy="night-watch" name="Night watch" />
    </Around>,
  );
  fireEvent.click(screen.getByText('Add or take out many by pasting a list'));
  fireEvent.change(list(), { target: { value: 'three lines' } });
}

const list = () => screen.getByRole('textbox', { name: 'Addresses, one a line' });

it('reports every line that cannot be taken before anything is staged, and stages the others', async () => {
  const sent = serve({
    'POST /addresses': () => REPORT,
    'POST /drafts': () => draftOf(1),
    'POST /drafts/7/edits': () => draftOf(2, ['Night watch includes Mirela Osk']),
    'GET /drafts/7': () => draftOf(2, ['Night watch includes Mirela Osk']),
  });
  opened();
  fireEvent.click(screen.getByText('Look through the list'));
  await screen.findByText('1 line fits');
  const left = screen.getByRole('list', { name: 'Lines that cannot be taken' });
  expect(left.children).toHaveLength(2);
  expect(left).toHaveTextContent('2nobody@skerrymore.exampleunknownNo account has this address.');
  expect(sent.map((s) => s.path)).toEqual(['/addresses']);
  expect(sent[0]?.body).toEqual({ text: 'three lines', adds: true, policy: 'night-watch' });
  fireEvent.click(screen.getByText('Add 1 account'));
  await waitFor(() => expect(screen.getByText('Add or take out many by pasting a list')).toBeInTheDocument());
  expect(sent.find((s) => s.path.endsWith('/edits'))?.body).toEqual({ version: 1, edits: [EDIT] });
});

it('looks through the list anew when it is altered', async () => {
  serve({ 'POST /addresses': () => REPORT });
  opened();
  fireEvent.click(screen.getByText('Look through the list'));
  await screen.findByText('1 line fits');
  fireEvent.change(list(), { target: { value: 'another' } });
  expect(screen.queryByText('1 line fits')).toBeNull();
  fireEvent.click(screen.getByText('Look through the list'));
  await screen.findByText('1 line fits');
  await userEvent.click(screen.getByRole('combobox', { name: 'What to do with them' }));
  await userEvent.click(screen.getByRole('option', { name: /take out|take the seat/ }));
  expect(screen.queryByText('1 line fits')).toBeNull();
});

it('keeps what was pasted when it is refused', async () => {
  serve({
    'POST /addresses': () =>
      new Status(413, {
        type: 'urn:lean-ladder:large',
        title: 'Too large',
        status: 413,
        detail: 'The list is too long.',
      }),
  });
  opened();
  fireEvent.click(screen.getByText('Look through the list'));
  expect(await screen.findByRole('alert')).toHaveTextContent('The list is too long.');
  expect(list()).toHaveValue('three lines');
});
