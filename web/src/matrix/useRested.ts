import { useEffect, useRef } from 'react';

/** After so long without a move the address takes over where one stands. */
const RESTED_MS = 600;

/** Tells on which row and column one stands, once one has rested there; never where one of them is undefined. */
export function useRested(
  row: string | undefined,
  column: string | undefined,
  onStand: (row: string, column: string) => void,
): void {
  const stand = useRef(onStand);
  useEffect(() => {
    stand.current = onStand;
  });
  useEffect(() => {
    if (!row || !column) return;
    const timer = globalThis.setTimeout(() => stand.current(row, column), RESTED_MS);
    return () => globalThis.clearTimeout(timer);
  }, [row, column]);
}
