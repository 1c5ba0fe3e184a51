import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { expect, it } from 'vitest';
import { DateField } from './DateField';

function Field(props: { of: 'day' | 'instant'; first?: string }) {
  const [value, setValue] = useState(props.first);
  return (
    <>
      <DateField label="Publish at" zone="UTC" of={props.of} side="future" value={value} onChange={setValue} />
      <output>{value ?? 'nothing'}</output>
    </>
  );
}

const type = (text: string) => fireEvent.change(screen.getByLabelText('Publish at'), { target: { value: text } });

it('says what it read while one types, and shows that afterwards', () => {
  render(<Field of="instant" />);
  type('1 july 2031 9:00');
  expect(screen.getByRole('status')).toHaveTextContent('2031-07-01T09:00:00Z');
  expect(screen.getByText('Tue 1 Jul 2031, 09:00')).toBeInTheDocument();
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByLabelText('Publish at')).toHaveValue('Tue 1 Jul 2031, 09:00');
});

it('says how to write it where it reads nothing, and keeps what was typed', () => {
  render(<Field of="instant" first="2031-07-01T09:00:00Z" />);
  type('when it suits');
  expect(screen.getByRole('status')).toHaveTextContent('nothing');
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByLabelText('Publish at')).toHaveValue('when it suits');
  expect(screen.getByText(/^Type “26 nov”/)).toBeInTheDocument();
});

it('takes a day picked from a month and keeps the time of day', () => {
  render(<Field of="instant" first="2031-07-01T09:30:00Z" />);
  fireEvent.click(screen.getByLabelText('Publish at: pick from a month'));
  fireEvent.click(screen.getByLabelText('The month after'));
  fireEvent.click(screen.getByLabelText(/^Tue 5 Aug/));
  expect(screen.getByRole('status')).toHaveTextContent('2031-08-05T09:30:00Z');
});
