import type { RungKind, Standing } from '../api/client';

/** From what height a value comes, in words. */
export const rungWords = (rung: RungKind): string => (rung === 'builtin' ? 'built-in' : `from the ${rung} rung`);

const STANDINGS: Record<Standing, string> = {
  blocked: 'blocked by a gate',
  capped: 'capped',
  locked: 'locked',
  set: 'set by a policy',
  builtin: 'built-in',
};

/** The standing of an outcome in words. */
export const standingWords = (standing: Standing): string => STANDINGS[standing];

/** A tiny ladder of six fixed places, the deciding one heavy: from what height a value comes. */
export function RungMark({ rung }: { rung: RungKind }) {
  return <Mark className={`with-rung rung-${rung} h-5 w-[15px]`} words={rungWords(rung)} />;
}

/** The standing of an outcome as a shape of its own. */
export function StandingMark({ standing }: { standing: Standing }) {
  return <Mark className={`with-standing standing-${standing} size-3.5`} words={standingWords(standing)} />;
}

function Mark({ className, words }: { className: string; words: string }) {
  return <span role="img" aria-label={words} title={words} className={`shrink-0 ${className}`} />;
}
