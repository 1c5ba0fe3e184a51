import { useCallback, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';

/**
 * A state that stands in the address, so that a link leads to it and the browser's way back keeps it. What is typed counts at once, and
 * the address follows.
 *
 * @param name the parameter; it is left out where the state is as it is at first
 */
export function useAddressState<T extends string>(name: string, first: T): [T, (next: T) => void] {
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  const addressed = (new URLSearchParams(search).get(name) ?? first) as T;
  // What was put and has not come by in the address yet.
  const [held, setHeld] = useState({ value: addressed, addressed, puts: [] as T[] });
  if (held.addressed !== addressed) {
    const own = held.puts.indexOf(addressed);
    setHeld({ value: own < 0 ? addressed : held.value, addressed, puts: own < 0 ? [] : held.puts.slice(own + 1) });
  }
  const put = useCallback(
    (next: T) => {
      setHeld((before) => ({ ...before, value: next, puts: [...before.puts, next] }));
      // The address of now: one that was typed a moment ago may not have been drawn yet.
      const params = new URLSearchParams(window.location.search || search);
      if (next === first) params.delete(name);
      else params.set(name, next);
      const text = params.toString().replaceAll('%3A', ':');
      void navigate(`${pathname}${text === '' ? '' : `?${text}`}`, { replace: true });
    },
    [name, first, pathname, search, navigate],
  );
  return [held.value, put];
}
