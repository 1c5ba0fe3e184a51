import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useLocation } from 'react-router';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { QueryBar } from './QueryBar';

const Address = () => <output>{useLocation().pathname + useLocation().search}</output>;

const show = (at: string) => {
  serve({
    'GET /drafts': () => ({ drafts: [] }),
    'GET /catalogue': () => ({
      apps: [],
      entitlements: [],
      sizes: [],
      families: [],
      settings: [{ key: 'chat.private', app: 'chat', title: 'Talk between two', type: 'switch', needs: [] }],
    }),
    'GET /accounts/mirela': () => ({ id: 'mirela', displayName: 'Mirela Osk', kind: 'person', workspace: null }),
    'GET /search': () => ({
      hits: [{ kind: 'account', id: 'tobin', title: 'Tobin Velho', context: 'MV Heron', matched: [] }],
      total: 1,
    }),
  });
  render(
    <Around at={at}>
      <QueryBar theme="light" onTheme={() => {}} />
      <Address />
    </Around>,
  );
};

it('shows the question by name', async () => {
  show('/ladder?who=account:mirela&what=setting:chat.private');
  const question = screen.getByRole('group', { name: 'Question' });
  expect(await within(question).findByText('Mirela Osk')).toBeVisible();
  expect(await within(question).findByText('Talk between two')).toBeVisible();
});

it('asks about somebody else, and keeps the setting', async () => {
  show('/ladder?who=account:mirela&what=setting:chat.private');
  const user = userEvent.setup();
  await user.click(await screen.findByRole('button', { name: /Who/ }));
  await user.type(await screen.findByRole('combobox', { name: 'Who' }), 'tob');
  await user.click(await screen.findByRole('option', { name: /Tobin Velho/ }));
  expect(screen.getByRole('status')).toHaveTextContent('who=account:tobin&what=setting:chat.private');
});
