import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { OutdatedDevices } from './OutdatedDevices';
import { WorkspaceOverview } from './WorkspaceOverview';

const DRAFTS = { 'GET /drafts': () => ({ drafts: [] }) };

const show = (panel: React.ReactElement) => render(<Around at="/directory/workspaces">{panel}</Around>);

it('lists what differs in workspaces, and what they may decide within which limits', async () => {
  serve({
    ...DRAFTS,
    'GET /workspace-deviations': () => ({
      complete: true,
      deviations: [
        {
          workspace: 'timetable-room',
          name: 'Timetable room',
          setting: 'assistant.watch-log',
          title: 'The assistant reads the watch log',
          value: 'On',
          elsewhere: 'Off',
          by: 'Timetable room',
          accounts: 12,
        },
      ],
    }),
    'GET /workspace-openness': () => ({
      workspaces: 5,
      settings: [
        {
          key: 'meetings.record',
          title: 'Record meetings',
          deciding: 1,
          limits: [{ policy: 'union', name: 'Union representatives', says: 'Off, locked' }],
        },
      ],
    }),
  });
  show(<WorkspaceOverview onClose={() => undefined} />);
  const link = await screen.findByRole('link', { name: 'The assistant reads the watch log' });
  expect(link.getAttribute('href')).toContain('timetable-room');
  expect(screen.getByRole('list', { name: 'Deviations' })).toHaveTextContent(
    'On instead of Offin Timetable room, for 12 members, by Timetable room',
  );
  expect(await screen.findByText('1 of 5 workspaces has a statement of its own')).toBeVisible();
  expect(screen.getByText('Off, locked, by Union representatives')).toBeVisible();
});

it('says so where nothing differs, and where the answer fails', async () => {
  serve({
    ...DRAFTS,
    'GET /workspace-deviations': () => ({ complete: true, deviations: [] }),
    'GET /workspace-openness': () => new Status(500, { title: 'Failed', status: 500, detail: 'Something went wrong.' }),
  });
  show(<WorkspaceOverview onClose={() => undefined} />);
  expect(await screen.findByText('In every workspace people have the same as elsewhere.')).toBeVisible();
  expect(await screen.findByText(/Something went wrong/)).toBeVisible();
});

it('lists whom old devices keep from a setting, and teaches where devices come from', async () => {
  serve({
    ...DRAFTS,
    'GET /outdated-devices': () => ({
      settings: [
        {
          setting: 'assistant.tablet',
          title: 'The assistant on deck tablets',
          need: ['Assistant 2.4 or later'],
          accounts: 23,
        },
      ],
    }),
    'GET /outdated-devices/assistant.tablet': () => ({
      accounts: 1,
      people: [{ account: 'a1', displayName: 'Mirela Osk', unit: 'Bridge' }],
      next: null,
    }),
  });
  const { unmount } = show(<OutdatedDevices onClose={() => undefined} />);
  await userEvent.click(await screen.findByRole('button', { name: '23 accounts' }));
  expect(await screen.findByText('needs Assistant 2.4 or later')).toBeVisible();
  unmount();
  serve({ ...DRAFTS, 'GET /outdated-devices': () => ({ settings: [] }) });
  show(<OutdatedDevices onClose={() => undefined} />);
  expect(await screen.findByText(/Devices come with the estate file, or from a file here/)).toBeVisible();
});
