import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { Around } from '../around.test-env';
import { serve, Status } from '../fakeServer.test-env';
import { LadderView } from './LadderView';

const CLIMB = {
  drawing: {
    account: 'Mirela Osk',
    setting: 'Talk between two',
    app: 'Chat',
    help: null,
    answer: 'Yes',
    because: [{ text: 'Relief captain turned it on.', policy: null }],
    value: 'On',
    decided: 'On',
    text: 'On, since Relief captain sets it to On for Mirela Osk.',
    rungs: [
      { height: 'builtin', depth: 0, name: 'Built-in', place: 'the catalogue' },
      { height: 'person', depth: 0, name: 'Person', place: 'Mirela Osk' },
    ],
    partial: false,
    decidingRung: 1,
    builtIn: { value: 'Off', reason: 'lower rung' },
    statements: [
      {
        rung: 1,
        policy: 'relief',
        name: 'Relief captain',
        cap: false,
        lock: false,
        value: 'On',
        verdict: 'decides',
        reason: 'decides',
        via: 'Mirela Osk',
      },
    ],
    gates: [],
  },
  outcome: {
    account: 'mirela',
    setting: 'chat.private',
    value: true,
    decided: true,
    standing: 'set',
    rung: 'person',
    policy: 'relief',
    cappedBy: null,
    blockedBy: [],
    dependsOnWorkspace: false,
  },
  climb: [],
  follows: null,
  gates: [],
  change: 3,
  at: '2026-11-23T12:00:00Z',
};

const show = (at: string, others: Parameters<typeof serve>[0] = {}) => {
  serve({
    'GET /climb': () => CLIMB,
    'GET /accounts/mirela': () => ({
      id: 'mirela',
      displayName: 'Mirela Osk',
      userName: 'mirela@skerrymore.example',
      kind: 'person',
      workspace: null,
      path: [],
      groups: [],
      seats: [],
      rings: [],
    }),
    'GET /accounts/mirela/settings': () => ({ settings: [] }),
    'GET /catalogue': () => ({ apps: [], entitlements: [], sizes: [], settings: [], families: [] }),
    'GET /drafts': () => ({ drafts: [] }),
    ...others,
  });
  render(
    <Around at={at}>
      <LadderView />
    </Around>,
  );
};

it('answers the question in its address, with the reason', async () => {
  show('/ladder?who=account:mirela&what=setting:chat.private');
  expect(await screen.findByText('Relief captain turned it on.')).toBeVisible();
  expect(document.title).toContain('Talk between two · Mirela Osk');
});

it('says what cannot be answered', async () => {
  show('/ladder?who=account:mirela&what=setting:chat.gone', {
    'GET /climb': () => new Status(404, { title: 'Not here', status: 404, detail: 'There is no setting "chat.gone".' }),
  });
  expect(await screen.findByText(/There is no setting/)).toBeVisible();
});

it('reports what it cannot read in its address', async () => {
  show('/ladder?who=crew:mirela', {
    'GET /overview': () => new Status(503, { title: 'Busy', status: 503, detail: '' }),
  });
  expect(await screen.findByRole('alert')).toHaveTextContent('crew:mirela');
});
