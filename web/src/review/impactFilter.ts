import type { Review } from '../api/client';

/** Which accounts of a ripple are asked for by name: the words are shown, the rest is asked. */
export interface ImpactFilter {
  title: string;
  words?: string;
  query: {
    setting?: string;
    from?: string;
    to?: string;
    unit?: string;
    part?: 'used' | 'blocked' | 'joining' | 'leaving';
    at?: string;
    workspace?: string;
  };
}

/** The accounts for which a value moves in one way. */
export const impactFilterOf = (move: Review['moves'][number]): ImpactFilter => ({
  title: move.title,
  words: `to ${move.to}`,
  query: { setting: move.setting, from: JSON.stringify(move.fromValue), to: JSON.stringify(move.toValue) },
});

/** Whether two parts are the same. */
export const sameImpactFilter = (a: ImpactFilter, b: ImpactFilter | undefined): boolean =>
  JSON.stringify(a.query) === JSON.stringify(b?.query);
