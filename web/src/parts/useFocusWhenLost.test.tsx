import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, it } from 'vitest';
import { useFocusWhenLost } from './useFocusWhenLost';

function Created() {
  return (
    <section ref={useFocusWhenLost<HTMLElement>()} tabIndex={-1} aria-label="What was created">
      <button>Next</button>
    </section>
  );
}

function Form() {
  const [created, setCreated] = useState(false);
  return created ? <Created /> : <button onClick={() => setCreated(true)}>Create</button>;
}

it('takes the focus of the form that is gone, so that the next key goes on from there', async () => {
  render(<Form />);
  await userEvent.click(screen.getByRole('button', { name: 'Create' }));
  expect(screen.getByRole('region', { name: 'What was created' })).toHaveFocus();
  await userEvent.tab();
  expect(screen.getByRole('button', { name: 'Next' })).toHaveFocus();
});
