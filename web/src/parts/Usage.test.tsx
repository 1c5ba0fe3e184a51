import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve } from '../fakeServer.test-env';
import { LastUse, Usage } from './Usage';

it('tells how many used a setting, hides small numbers by unit, and says what stays shared', async () => {
  serve({
    'GET /settings/files.share/usage': () => ({
      recent: 12,
      everyone: 616,
      periods: [
        { day: '2026-11-23', days: 1, people: 4 },
        { day: '2026-11-24', days: 1, people: 9 },
      ],
      units: [
        { id: 'fleet', name: 'Fleet', people: 9, everyone: 323 },
        { id: 'shore', name: 'Shore office', people: null, everyone: 56 },
        { id: 'terminals', name: 'Terminals', people: 0, everyone: 104 },
      ],
      items: { items: 1204, day: '2026-11-24' },
    }),
  });
  render(
    <Around at="/settings/files.share">
      <Usage setting="files.share" />
    </Around>,
  );
  expect(await screen.findByText('12 of 616 accounts used it in the last 30 days.')).toBeInTheDocument();
  expect(screen.getByText(/1,204 items shared outside/)).toHaveTextContent('A stricter value does not revoke them.');
  expect(screen.getByRole('list', { name: 'Usage by unit' })).toHaveTextContent(/Shore office\s*fewer than 5 of 56/);
  expect(screen.queryByText('Terminals')).toBeNull();
});

it('says when a person used a setting last, and nothing where no client reports it', async () => {
  serve({
    'GET /accounts/a1/usage/files.share': () => ({ day: '2026-11-23', days: 7, reported: true }),
    'GET /accounts/a1/usage/chat.private': () => ({ day: null, days: 1, reported: false }),
  });
  const { container } = render(
    <Around at="/ladder">
      <p>
        <LastUse account="a1" setting="files.share" />
        <LastUse account="a1" setting="chat.private" />
      </p>
    </Around>,
  );
  expect(await screen.findByText(/Last used in the week of 23/)).toBeInTheDocument();
  expect(container).not.toHaveTextContent('Never used');
});
