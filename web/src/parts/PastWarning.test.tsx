import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useLocation } from 'react-router';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { PastWarning } from './PastWarning';

const Where = () => <output>{useLocation().search}</output>;
const show = (search: string) =>
  render(
    <Around at={`/policies${search}`}>
      <PastWarning />
      <Where />
    </Around>,
  );

it('says that another instant is asked about, and asks about now at one press', async () => {
  show('?who=account:mirela.osk&when=2026-11-10T09:00:00Z');
  expect(screen.getByRole('note')).toHaveTextContent('The question asks about Tue 10 Nov');
  await userEvent.click(screen.getByRole('button', { name: 'Ask about now' }));
  expect(screen.queryByRole('note')).toBeNull();
  expect(screen.getByRole('status')).toHaveTextContent('who=account:mirela.osk');
});

it('says nothing where now is asked about, or what a draft would make', () => {
  show('?who=account:mirela.osk');
  expect(screen.queryByRole('note')).toBeNull();
  show('?when=draft:7');
  expect(screen.queryByRole('note')).toBeNull();
});
