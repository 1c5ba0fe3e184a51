import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { ArrangeRings, arranged } from './ArrangeRings';
import { asking } from './AskToJoin';
import { foundWords } from './Feedback';
import { ringOf } from './ring.test-env';

it('asks one account by an edit of its own, and many at once, with the text where there is one', () => {
  expect(asking('r', ['a'], ' ', '', 'now')).toEqual({ kind: 'ask-to-join', account: 'a', ring: 'r', at: 'now' });
  expect(asking('r', ['a', 'b'], ' Would you? ', 'Ivo Tarn', 'now')).toMatchObject({
    kind: 'batch',
    edits: [{ account: 'a', text: 'Would you?', by: 'Ivo Tarn' }, { account: 'b' }],
  });
});

it('never lets the outermost ring ask, and gives no id to a new one', () => {
  const edit = arranged([
    { key: '1', name: ' Slipway ', asksConsent: true, devices: 'desk, tablet,', text: '', anew: true },
    { key: 'e', id: 'everyone', name: 'Everyone', asksConsent: true, devices: '', text: '', anew: true },
  ]);
  expect(edit).toEqual({
    kind: 'arrange-rings',
    rings: [
      { name: 'Slipway', asksConsent: true, devices: ['desk', 'tablet'] },
      { id: 'everyone', name: 'Everyone', asksConsent: false, devices: [] },
    ],
  });
});

it('keeps what was typed when the rings are refused, and closes when they are taken', async () => {
  const user = userEvent.setup();
  const onEdit = vi.fn().mockResolvedValueOnce(false).mockResolvedValueOnce(true);
  const onClose = vi.fn();
  render(
    <ArrangeRings
      rings={[ringOf('a', 'Dry dock'), ringOf('b', 'Everyone', { asksConsent: false })]}
      onEdit={onEdit}
      onClose={onClose}
    />,
  );
  await user.click(screen.getByRole('button', { name: 'One more, inside all others' }));
  expect(screen.getByRole('button', { name: 'Arrange them so' })).toHaveProperty('disabled', true);
  await user.type(screen.getByRole('textbox', { name: 'Name of the new ring' }), 'Slipway');
  await user.click(screen.getByRole('button', { name: 'Arrange them so' }));
  expect(onClose).not.toHaveBeenCalled();
  expect(screen.getByDisplayValue('Slipway')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Arrange them so' }));
  expect(onEdit.mock.calls[1]?.[0]).toMatchObject([
    { rings: [{ name: 'Slipway', asksConsent: true }, { id: 'a' }, { id: 'b', asksConsent: false }] },
  ]);
  expect(onClose).toHaveBeenCalled();
});

it('says what people found in numbers that read as a sentence', () => {
  expect(foundWords({ works: 0, fails: 0, ideas: 0, open: 0 })).toBe('Nobody has said anything yet');
  expect(foundWords({ works: 2, fails: 1, ideas: 1, open: 3 })).toBe(
    'It works for 2 and does not for 1, 1 idea; 3 not dealt with',
  );
  expect(foundWords({ works: 0, fails: 0, ideas: 2, open: 0 })).toBe('2 ideas; all dealt with');
});
