import { useCallback } from 'react';
import { useLocation, useNavigate } from 'react-router';

/**
 * A state that stands in the address, so that a link leads to it and the browser's way back keeps it.
 *
 * @param name the parameter; it is left out where the state is as it is at first
 */
export function useAddressState<T extends string>(name: string, first: T): [T, (next: T) => void] {
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  const value = (new URLSearchParams(search).get(name) ?? first) as T;
  const put = useCallback(
    (next: T) => {
      const params = new URLSearchParams(search);
      if (next === first) params.delete(name);
      else params.set(name, next);
      const text = params.toString().replaceAll('%3A', ':');
      void navigate(`${pathname}${text === '' ? '' : `?${text}`}`, { replace: true });
    },
    [name, first, pathname, search, navigate],
  );
  return [value, put];
}
