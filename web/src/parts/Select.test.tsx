import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, it, vi } from 'vitest';
import { Select, type SelectOption } from './Select';

const named = (...names: string[]): SelectOption[] => names.map((name) => ({ value: name.toLowerCase(), label: name }));
const TWELVE = named('Chat', 'Meetings', 'Calls', 'Mail', 'Calendar', 'Files', 'Pages', 'Directory', 'Help', 'Devices');

function show(options: SelectOption[], onChange = vi.fn()) {
  function Field() {
    const [value, setValue] = useState(options[0]?.value ?? '');
    return (
      <Select
        label="App"
        value={value}
        options={options}
        onChange={(next) => {
          setValue(next);
          onChange(next);
        }}
      />
    );
  }
  render(<Field />);
  return onChange;
}

const field = () => screen.getByRole('combobox', { name: 'App' });

it('opens with an arrow key, moves with arrow keys and chooses with Enter', async () => {
  const changed = show(named('Live', 'Paused', 'Ended'));
  field().focus();
  await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}{ArrowUp}{Enter}');
  expect(changed.mock.calls).toEqual([['paused']]);
  expect(field()).toHaveTextContent('Paused');
  expect(field()).toHaveFocus();
});

it('finds by the first letters, and Escape leaves everything as it was', async () => {
  const changed = show(named('Live', 'Paused', 'Ended'));
  await userEvent.click(field());
  await userEvent.keyboard('en{Enter}');
  expect(changed.mock.calls).toEqual([['ended']]);
  await userEvent.click(field());
  await userEvent.keyboard('{ArrowUp}{Escape}');
  expect(changed).toHaveBeenCalledTimes(1);
  expect(screen.queryByRole('listbox')).toBeNull();
});

it('narrows a long list by what is typed, and says where nothing fits', async () => {
  const changed = show(TWELVE);
  await userEvent.click(field());
  await userEvent.keyboard('ca');
  expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['Calls', 'Calendar']);
  await userEvent.keyboard('x');
  expect(screen.getByText('Nothing fits “cax”.')).toBeVisible();
  await userEvent.keyboard('{Enter}{Backspace}{ArrowDown}{Enter}');
  expect(changed.mock.calls).toEqual([['calendar']]);
});
