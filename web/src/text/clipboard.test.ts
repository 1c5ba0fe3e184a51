import { afterEach, expect, it, vi } from 'vitest';
import { copy } from './clipboard';

afterEach(() => {
  vi.unstubAllGlobals();
});

const clipboard = (writeText: unknown) => vi.stubGlobal('navigator', { clipboard: writeText && { writeText } });

it('says whether a text is on the clipboard', async () => {
  const write = vi.fn().mockResolvedValue(undefined);
  clipboard(write);
  expect(await copy('a link')).toBe(true);
  expect(write).toHaveBeenCalledWith('a link');
});

it('says no where the browser refuses, or has no clipboard for such a page', async () => {
  clipboard(vi.fn().mockRejectedValue(new Error('not allowed')));
  expect(await copy('a link')).toBe(false);
  clipboard(undefined);
  expect(await copy('a link')).toBe(false);
});
