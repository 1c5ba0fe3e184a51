import { afterEach, expect, it } from 'vitest';
import { heard, now } from './clock';

afterEach(() => heard(new Date().toISOString()));

it('goes on from what the server’s clock showed, whatever this machine’s shows', () => {
  heard('2026-11-25T12:00:00Z');
  expect(Math.abs(Date.parse(now()) - Date.parse('2026-11-25T12:00:00Z'))).toBeLessThan(5000);
  heard('2031-01-01T00:00:00Z');
  expect(now().slice(0, 10)).toBe('2031-01-01');
});
