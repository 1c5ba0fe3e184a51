import { useEffect, useRef } from 'react';

/** Takes the focus when what had it is gone, such as the form that made what is shown now. The element needs a tab index of -1. */
export function useFocusWhenLost<E extends HTMLElement>() {
  const ref = useRef<E>(null);
  useEffect(() => {
    if (document.activeElement === document.body) ref.current?.focus({ preventScroll: true });
  }, []);
  return ref;
}
