import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useLocation, useNavigate } from 'react-router';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { useAddressState } from './useAddressState';

function Field() {
  const [text, setText] = useAddressState<string>('filter', '');
  const navigate = useNavigate();
  return (
    <>
      <input aria-label="Filter" value={text} onChange={(e) => setText(e.target.value)} />
      <output>{useLocation().search}</output>
      <button onClick={() => void navigate('?filter=elsewhere&x=1')}>Elsewhere</button>
    </>
  );
}

it('keeps what is typed in the address, and follows an address that comes from elsewhere', async () => {
  serve({});
  render(
    <Around at="/policies?filter=a">
      <Field />
    </Around>,
  );
  const field = screen.getByRole('textbox', { name: 'Filter' });
  await userEvent.type(field, 'bcdef');
  expect(field).toHaveValue('abcdef');
  expect(screen.getByRole('status')).toHaveTextContent('?filter=abcdef');
  await userEvent.click(screen.getByRole('button', { name: 'Elsewhere' }));
  expect(field).toHaveValue('elsewhere');
  await userEvent.clear(field);
  expect(screen.getByRole('status')).toHaveTextContent('?x=1');
});
