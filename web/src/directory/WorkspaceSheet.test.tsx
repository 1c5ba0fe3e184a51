import { expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { sentence } from './WorkspaceSheet';

const FATE: Schemas['WorkspaceEffect'] = { id: 'x', fate: 'overridden', value: 'off', accounts: 3 } as never;

it('says what becomes of a setting in a workspace, and by whom', () => {
  expect(sentence({ need: null }, { ...FATE, elsewhere: 'on' })).toBe('Off here, on elsewhere, for');
  expect(sentence({ need: null }, { ...FATE, fate: 'held', by: 'Quiet bridge' })).toBe(
    'A lock of Quiet bridge forbids it: off for',
  );
  expect(sentence({ need: 'Hosting of size M, no trial' }, { ...FATE, fate: 'unhosted', elsewhere: 'On' })).toBe(
    'On is decided, off in effect: it needs hosting of size M, no trial, for',
  );
});
