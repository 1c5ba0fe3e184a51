/** What rows of the matrix can be narrowed to, in words. */
export const FILTERS = {
  'not-built-in': 'where it is not the built-in value',
  mixed: 'where anything differs inside',
  blocked: 'where a licence blocks',
  drafted: 'where the draft changes something',
} as const;

export type Filter = keyof typeof FILTERS;
