import '@testing-library/jest-dom/vitest';
import { cleanup, configure } from '@testing-library/react';
import { afterEach } from 'vitest';
import { serve } from './fakeServer.test-env';
import { syncClock } from './text/clock';

// A starved machine needs longer until what is awaited is there.
configure({ asyncUtilTimeout: 10_000 });

afterEach(() => {
  cleanup();
  localStorage.clear();
  sessionStorage.clear();
  syncClock(new Date().toISOString());
  serve({});
});

// What jsdom lacks and virtual lists and popovers ask for.
class NoResize {
  observe() {}
  unobserve() {}
  disconnect() {}
}
globalThis.ResizeObserver = NoResize;
Element.prototype.scrollIntoView = () => {};
Element.prototype.hasPointerCapture = () => false;
