import type { RingLine } from './queries';

/** A ring in which nobody stands yet. */
export const ringOf = (id: string, name: string, more: Partial<RingLine> = {}): RingLine => ({
  id,
  name,
  asksConsent: true,
  may: 0,
  did: 0,
  rooms: 0,
  asked: 0,
  declined: 0,
  devices: [],
  terms: null,
  policies: [],
  ...more,
});
