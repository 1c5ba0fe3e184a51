import '@testing-library/jest-dom/vitest';
import { cleanup } from '@testing-library/react';
import { afterEach } from 'vitest';
import { serve } from './fakeServer.test-env';
import { heard } from './text/clock';

afterEach(() => {
  cleanup();
  localStorage.clear();
  sessionStorage.clear();
  heard(new Date().toISOString());
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
