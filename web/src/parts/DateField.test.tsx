import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { expect, it, vi } from 'vitest';
import { DateField } from './DateField';

function Field(props: { of: 'day' | 'instant'; first?: string; until?: boolean }) {
  const [value, setValue] = useState(props.first);
  return (
    <>
      <DateField
        label="Publish at"
        zone="UTC"
        of={props.of}
        until={props.until}
        side="future"
        value={value}
        onChange={setValue}
      />
      <output>{value ?? 'nothing'}</output>
    </>
  );
}

const type = (text: string) => fireEvent.change(screen.getByLabelText('Publish at'), { target: { value: text } });

it('says what it read while one types, and shows that afterwards', () => {
  render(<Field of="instant" />);
  type('1 july 2031 9:00');
  expect(screen.getByText('Tue 1 Jul 2031, 09:00')).toBeInTheDocument();
  expect(screen.getByRole('status')).toHaveTextContent('nothing');
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByRole('status')).toHaveTextContent('2031-07-01T09:00:00Z');
  expect(screen.getByLabelText('Publish at')).toHaveValue('Tue 1 Jul 2031, 09:00');
});

it('says how to write it where it reads nothing, and keeps what was typed', () => {
  render(<Field of="instant" first="2031-07-01T09:00:00Z" />);
  type('when it suits');
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByRole('status')).toHaveTextContent('nothing');
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

it('takes nothing of what is half typed, and Enter takes the date without sending the form', () => {
  const sent = vi.fn((e: React.FormEvent) => e.preventDefault());
  render(
    <form onSubmit={sent}>
      <Field of="instant" />
      <button>Buy</button>
    </form>,
  );
  for (const text of ['2', '20', '20 ', '20 d', '20 de', '20 dec 2031']) {
    type(text);
    expect(screen.getByRole('status')).toHaveTextContent('nothing');
  }
  expect(fireEvent.keyDown(screen.getByLabelText('Publish at'), { key: 'Enter' })).toBe(false);
  expect(screen.getByRole('status')).toHaveTextContent('2031-12-20T00:00:00Z');
  expect(sent).not.toHaveBeenCalled();
});

it('includes the whole of a day that is an end, and says so', () => {
  render(<Field of="instant" until />);
  type('31 jan 2032');
  expect(screen.getByText(/^end of Sat\s31\sJan\s2032$/)).toBeInTheDocument();
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByRole('status')).toHaveTextContent('2032-02-01T00:00:00Z');
  fireEvent.focus(screen.getByLabelText('Publish at'));
  type(screen.getByLabelText<HTMLInputElement>('Publish at').value + ' ');
  fireEvent.blur(screen.getByLabelText('Publish at'));
  expect(screen.getByRole('status')).toHaveTextContent('2032-02-01T00:00:00Z');
});
