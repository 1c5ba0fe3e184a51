import { useId } from 'react';
import type { LicenceGapView } from '../api/client';
import { count, formatNumber } from '../text/words';

const HEIGHT = 20;

/** How those who are asked about fall apart, each of them into one part. */
export function gapParts(needed: Pick<LicenceGapView, 'accounts' | 'inForce' | 'ready' | 'beyond' | 'turnedOff'>) {
  const inForce = Math.min(needed.inForce, needed.ready);
  return {
    inForce,
    ready: needed.ready - inForce,
    licence: needed.accounts - needed.ready - needed.beyond - needed.turnedOff,
    licenceAndOff: needed.turnedOff,
    beyond: needed.beyond,
  };
}

/** Who has it, who could, who lacks a licence and nothing else, and whom no seat would help, side by side and to scale, each with its number and sign. */
export function GapBar({ needed }: { needed: LicenceGapView }) {
  const id = useId();
  const parts = gapParts(needed);
  const shown = [
    { n: parts.inForce, fill: 'var(--decide)', words: parts.inForce === 1 ? 'has it' : 'have it' },
    { n: parts.ready, fill: `url(#${id}-ready)`, words: 'could, but it is turned off for them' },
    {
      n: parts.licence,
      fill: `url(#${id}-lack)`,
      words: parts.licence === 1 ? 'needs only a licence' : 'need only a licence',
    },
    {
      n: parts.licenceAndOff,
      fill: `url(#${id}-lack)`,
      words:
        parts.licenceAndOff === 1 ? 'needs a licence, and it is turned off' : 'need a licence, and it is turned off',
    },
    {
      n: parts.beyond,
      fill: 'var(--well)',
      words: parts.beyond === 1 ? 'fails what no seat can meet' : 'fail what no seat can meet',
    },
  ].filter(({ n }) => n > 0);
  let from = 0;
  return (
    <figure className="mt-3">
      <svg width="100%" height={HEIGHT} className="block" aria-hidden>
        <defs>
          <pattern id={`${id}-ready`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill="var(--well)" />
            <rect width="2.5" height="6" fill="var(--decide)" />
          </pattern>
          <pattern id={`${id}-lack`} width="5" height="5" patternUnits="userSpaceOnUse">
            <rect width="5" height="5" fill="var(--sheet)" />
            <rect width="2" height="5" fill="var(--shut)" />
          </pattern>
        </defs>
        {shown.map(({ n, fill, words }) => {
          const x = (100 * from) / Math.max(1, needed.accounts);
          from += n;
          return (
            <rect
              key={words}
              className="settles"
              x={`${x}%`}
              y="0"
              width={`${(100 * n) / Math.max(1, needed.accounts)}%`}
              height={HEIGHT}
              fill={fill}
            />
          );
        })}
        <rect x="0" y="0" width="100%" height={HEIGHT} fill="none" stroke="var(--line2)" />
      </svg>
      <figcaption className="mt-1.5 flex flex-wrap gap-x-6 gap-y-1">
        <span>Of {count(needed.accounts, 'account')}</span>
        {shown.map(({ n, fill, words }) => (
          <span key={words} className="flex items-center gap-1.5">
            <svg width="14" height="12" aria-hidden>
              <rect x="0.5" y="0.5" width="13" height="11" fill={fill} stroke="var(--line2)" />
            </svg>
            <span>
              <strong className="font-semibold">{formatNumber(n)}</strong> {words}
            </span>
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
