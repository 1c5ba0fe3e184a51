import type { RungKind } from '../api/client';

/** What the rungs of many are called. */
export const RUNGS: Record<RungKind, string> = {
  builtin: 'Built-in',
  organisation: 'Organisation',
  unit: 'Units',
  group: 'Groups',
  hosting: 'Hosting',
  workspace: 'Workspace',
  person: 'Person',
};
