import { useEffect, useState } from 'react';

/** A value as it was when it last stayed the same for so long, in milliseconds; typing does not ask the server at every key. */
export function useSettled<T>(value: T, restMs: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = globalThis.setTimeout(() => setSettled(value), restMs);
    return () => globalThis.clearTimeout(timer);
  }, [value, restMs]);
  return settled;
}
