import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { LostUsage } from './LostUsage';
import { MoveTable } from './MoveTable';

const used = (more: object) => [
  { setting: 'chat.private', title: 'Talk between two', accounts: 514, used: 314, items: null, ...more },
];

const text = (more: object) => {
  const { container } = render(<LostUsage used={used(more)} onChoose={() => undefined} />);
  return container.querySelector('li')?.textContent;
};

it('says how many lose it and used it, in sentences that read well for every number', () => {
  expect(text({})).toBe('Talk between two: 514 lose it, 314 of them used it.');
  expect(text({ used: 0 })).toBe('Talk between two: 514 lose it, and none of them used it.');
  expect(text({ accounts: 1, used: 1 })).toBe('Talk between two: 1 account loses it and used it.');
  expect(text({ accounts: 1, used: 0 })).toBe('Talk between two: 1 account loses it and did not use it.');
  expect(text({ used: null, items: 1 })).toBe('Talk between two: 514 lose it. 1 item shared outside stays shared.');
});

it('leads to those who used it by name', async () => {
  const onChoose = vi.fn();
  render(<LostUsage used={used({})} onChoose={onChoose} />);
  await userEvent.click(screen.getByRole('button', { name: '314 of them used it' }));
  expect(onChoose).toHaveBeenCalledWith(expect.objectContaining({ query: { setting: 'chat.private', part: 'used' } }));
});

it('shows the old picture beside the new one', () => {
  const picture = (alt: string) => ({ sha256: alt.padEnd(64, '0'), media: 'image/png', alt });
  render(
    <MoveTable
      title="Other changes"
      moves={[
        {
          setting: 'directory.sign-in-picture',
          title: 'Picture on the sign-in page',
          from: 'a picture: Ferry',
          to: 'a picture: Flag',
          fromValue: picture('Ferry'),
          toValue: picture('Flag'),
          effect: 'other',
          accounts: 616,
        },
      ]}
      onChoose={() => undefined}
    />,
  );
  expect(screen.getAllByRole('img').map((img) => img.getAttribute('alt'))).toEqual(['Ferry', 'Flag']);
});
