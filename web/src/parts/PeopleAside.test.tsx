import { fireEvent, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { RefusedError } from '../api/client';
import { Around } from '../around.test-env';
import { PeopleAside } from './PeopleAside';

const aside = (page: Parameters<typeof PeopleAside>[0]['page'], onClose = () => {}) =>
  render(
    <Around>
      <PeopleAside
        label="By name"
        title="Talk between two"
        words="to Off"
        list={[1]}
        page={page}
        file="/api/v1/people?format=csv"
        to={(person) => `/ladder?who=account:${person.account}`}
        onClose={onClose}
      />
    </Around>,
  );

it('counts all, though it shows a page, and asks for the next where there is one', async () => {
  const asked: (string | undefined)[] = [];
  aside((after) => {
    asked.push(after);
    return Promise.resolve({ accounts: 2001, people: [], next: after === undefined ? 'a1000' : null });
  });
  expect(await screen.findByText('2,001 accounts')).toBeInTheDocument();
  fireEvent.click(await screen.findByText('More'));
  await vi.waitFor(() => expect(screen.queryByText('More')).toBeNull());
  expect(asked).toEqual([undefined, 'a1000']);
});

it('says what is wrong in place of a number that is not true', async () => {
  const detail = 'The database does not answer; nothing was stored. Try again in a moment.';
  aside(() => Promise.reject(new RefusedError({ type: 'urn:lean-ladder:away', title: 'Away', status: 503, detail })));
  expect(await screen.findByText(new RegExp(detail))).toBeInTheDocument();
  expect(screen.queryByText(/account/)).toBeNull();
});

it('is closed by its button', async () => {
  const onClose = vi.fn();
  aside(() => Promise.resolve({ accounts: 1, people: [], next: null }), onClose);
  expect(await screen.findByText('1 account')).toBeInTheDocument();
  fireEvent.click(screen.getByText('Close'));
  expect(onClose).toHaveBeenCalled();
});
