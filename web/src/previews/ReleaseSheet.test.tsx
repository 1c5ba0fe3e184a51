import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { ReleaseSheet } from './ReleaseSheet';
import { ringOf } from './ring.test-env';

const NOW = '2026-11-25T12:00:00Z';
const RINGS = [ringOf('sea-trial', 'Sea trial'), ringOf('everyone', 'Everyone', { asksConsent: false })];
const release = (more: object = {}) => ({
  setting: 'meetings.captions',
  title: 'Spoken words on screen',
  app: 'Meetings',
  openings: [
    { ring: 'sea-trial', at: '2026-11-16T06:00:00Z', planned: false },
    { ring: 'everyone', at: '2026-12-14T00:00:00Z', planned: true },
  ],
  early: [{ to: 'group:safety-stewards', words: 'Safety stewards', from: '2026-11-02T06:00:00Z' }],
  has: 14,
  unconsented: 34,
  kept: 0,
  off: 0,
  alone: 0,
  oneByOne: false,
  held: null,
  owner: 'Vera Quill',
  note: 'Captions come a second late.',
  notes: { tablet: 'Small at night.' },
  versions: {},
  guide: null,
  devices: [],
  atLeast: 2,
  feedbackUntil: '2026-12-24',
  feedback: { works: 0, fails: 0, ideas: 0, open: 0 },
  ...more,
});
const CATALOGUE = { apps: [], sizes: [], settings: [], entitlements: [], families: [] };

const show = async (more: object = {}) => {
  serve({
    'GET /releases/meetings.captions': () => ({
      release: release(more),
      rings: [{ ring: 'sea-trial', has: 14, off: 0, unconsented: 34, kept: 0 }],
      needs: [],
      families: [],
    }),
    'GET /feedback': () => ({ feedback: [], next: null }),
    'GET /catalogue': () => CATALOGUE,
  });
  const onEdit = vi.fn().mockResolvedValue(true);
  render(
    <Around at="/previews/release/meetings.captions">
      <ReleaseSheet
        setting="meetings.captions"
        rings={RINGS}
        zone="UTC"
        now={Date.parse(NOW)}
        onEdit={onEdit}
        onClose={() => undefined}
      />
    </Around>,
  );
  await screen.findByRole('heading', { name: 'Spoken words on screen' });
  return onEdit;
};
const row = (name: string) =>
  within(
    within(screen.getByRole('list', { name: 'Ring by ring' }))
      .getAllByRole('listitem')
      .find((li) => li.textContent?.startsWith(name)) as HTMLElement,
  );

it('says ring by ring since when it is open, what is only planned, and who has it', async () => {
  await show();
  expect(row('Sea trial').getByText(/^open since Mon 16 Nov/)).toBeVisible();
  expect(row('Sea trial').getByText(/14 have it, 34 could/)).toBeVisible();
  expect(row('Everyone').getByText(/^planned for Mon 14 Dec/)).toBeVisible();
});

it('offers to draw back what is open, and to open what is not', async () => {
  const onEdit = await show();
  expect(row('Sea trial').queryByRole('button', { name: /Open .* now/ })).toBeNull();
  await userEvent.click(
    row('Sea trial').getByRole('button', { name: 'Withdraw Spoken words on screen from Sea trial' }),
  );
  expect(onEdit).toHaveBeenLastCalledWith([
    { kind: 'open-release', release: 'meetings.captions', ring: 'sea-trial', from: null },
  ]);
  await userEvent.click(row('Everyone').getByRole('button', { name: 'Open Spoken words on screen to Everyone now' }));
  expect(onEdit).toHaveBeenLastCalledWith([
    { kind: 'open-release', release: 'meetings.captions', ring: 'everyone', from: expect.any(String) as string },
  ]);
});

it('only plans a day without losing what else is planned, and takes an opening back for it', async () => {
  const onEdit = await show();
  await userEvent.click(row('Sea trial').getByRole('button', { name: 'Another day' }));
  await userEvent.type(row('Sea trial').getByRole('textbox'), '1 dec 8:00');
  await userEvent.click(row('Sea trial').getByRole('button', { name: 'Only plan it' }));
  const [edits] = onEdit.mock.calls[0] as [{ kind: string; members?: { planned: Record<string, string> } }[]];
  expect(edits.map((e) => e.kind)).toEqual(['open-release', 'amend-release']);
  expect(Object.keys(edits[1]?.members?.planned ?? {}).sort()).toEqual(['everyone', 'sea-trial']);
});

it('is held with a reason, and says which while it is', async () => {
  const onEdit = await show();
  expect(screen.getByRole('button', { name: 'Hold' })).toBeDisabled();
  await userEvent.type(screen.getByLabelText('Why it is held'), 'It drops words{Enter}');
  expect(onEdit.mock.calls[0]?.[0]).toMatchObject([{ kind: 'pause-release', reason: 'It drops words' }]);
});

it('is let go where it is held', async () => {
  const onEdit = await show({ held: 'It drops words' });
  await userEvent.click(screen.getByRole('button', { name: 'Resume' }));
  expect(onEdit).toHaveBeenCalledWith([{ kind: 'resume-release', release: 'meetings.captions' }]);
});

it('says what a wrong number must be, and keeps it', async () => {
  const onEdit = await show();
  const field = screen.getByLabelText('Takes at least');
  await userEvent.clear(field);
  await userEvent.type(field, '0');
  await userEvent.tab();
  expect(screen.getByRole('alert')).toHaveTextContent('a whole number from 1 to 9,999');
  expect(field).toHaveValue('0');
  expect(onEdit).not.toHaveBeenCalled();
});

it('can be looked after by nobody, and want feedback for good', async () => {
  const onEdit = await show();
  await userEvent.click(screen.getByRole('button', { name: 'By nobody' }));
  expect(onEdit.mock.calls[0]?.[0]).toMatchObject([{ kind: 'amend-release', members: { owner: null } }]);
  await userEvent.click(screen.getByRole('button', { name: 'Wanted always' }));
  expect(onEdit.mock.calls[1]?.[0]).toMatchObject([{ kind: 'amend-release', members: { feedbackUntil: null } }]);
});

it('says that there is no such release', async () => {
  serve({ 'GET /releases/nothing': () => new Status(404, { status: 404, title: 'Unknown', detail: 'No release.' }) });
  render(
    <Around>
      <ReleaseSheet setting="nothing" rings={RINGS} zone="UTC" now={0} onEdit={vi.fn()} onClose={() => undefined} />
    </Around>,
  );
  expect(await screen.findByText('No release.')).toBeVisible();
});

it('keeps notes by kind of device: another is added, and an emptied one is removed', async () => {
  const onEdit = await show();
  await userEvent.type(screen.getByRole('textbox', { name: 'Kind of device of the new note' }), 'room screen');
  await userEvent.type(screen.getByRole('textbox', { name: 'New note' }), 'Sit near.{Enter}');
  expect(onEdit).toHaveBeenLastCalledWith([
    expect.objectContaining({ members: { notes: { tablet: 'Small at night.', 'room screen': 'Sit near.' } } }),
  ]);
  await userEvent.clear(screen.getByDisplayValue('Small at night.'));
  await userEvent.tab();
  expect(onEdit).toHaveBeenLastCalledWith([expect.objectContaining({ members: { notes: null } })]);
});
