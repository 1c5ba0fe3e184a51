import { useSyncExternalStore } from 'react';

/** Where one is: whose page it is, and what of it, as the address says. */
export type Here = { as: string; app: string; at: string; deed: string; beside: boolean };

const listeners = new Set<() => void>();
const listen = (listener: () => void) => {
  listeners.add(listener);
  window.addEventListener('popstate', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('popstate', listener);
  };
};

/** Goes somewhere else; what is not named stays. */
export function go(to: Partial<Here>) {
  const query = new URLSearchParams(window.location.search);
  for (const [name, value] of Object.entries(to)) query.set(name, String(value));
  window.history.pushState(null, '', `/?${query}`);
  listeners.forEach((l) => l());
}

function read(search: string): Here {
  const query = new URLSearchParams(search);
  return {
    as: query.get('as') ?? '',
    app: query.get('app') ?? '',
    at: query.get('at') ?? '',
    deed: query.get('deed') ?? '',
    beside: query.get('beside') === '1',
  };
}

/** Where one is now. */
export const useHere = (): Here => read(useSyncExternalStore(listen, () => window.location.search));
