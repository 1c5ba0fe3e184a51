import type { Setting } from '../api/client';
import { numberOr } from '../parts/ValueControl';

/** What a text typed into a cell comes to: a value, or the words that say why it is none yet. */
export interface CellInput {
  text: string;
  value?: unknown;
  doubt?: string;
  /** That nothing is to be said here any more. */
  silent?: boolean;
}

/** Reads a text as a value of the setting: the beginning of an option's name is enough where only one begins so. */
export function parseCellInput(setting: Setting, text: string): CellInput {
  if (text.trim() === '') return { text };
  switch (setting.type) {
    case 'switch':
      return oneOf(text, [
        ['On', true],
        ['Off', false],
      ]);
    case 'choice':
      return oneOf(
        text,
        (setting.options ?? []).map((o) => [o.replaceAll('-', ' '), o]),
      );
    case 'number':
      return { text, value: numberOr(text) };
    case 'list':
      return {
        text,
        value: text
          .split(/[,;\n]/)
          .map((t) => t.trim())
          .filter((t) => t !== ''),
      };
    default:
      return { text, value: text };
  }
}

function oneOf(text: string, options: [string, unknown][]): CellInput {
  const wanted = text.trim().toLowerCase();
  const same = options.filter(([name]) => name.toLowerCase() === wanted);
  const fits = same.length > 0 ? same : options.filter(([name]) => name.toLowerCase().startsWith(wanted));
  const [only, ...others] = fits;
  if (only && others.length === 0) return { text, value: only[1] };
  const names = (fits.length > 0 ? fits : options).map(([name]) => name);
  const said = names.length > 5 ? [...names.slice(0, 5), '…'] : names;
  return {
    text,
    doubt:
      fits.length > 0
        ? `“${text}” can become ${said.join(' or ')}: type on.`
        : `“${text}” is none of ${said.join(', ')}.`,
  };
}
