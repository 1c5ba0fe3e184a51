const NUMBERS = new Intl.NumberFormat('en-GB');

/** A number as people read it: "1,234". One format serves all, for making one costs more than using it a thousand times. */
export const formatNumber = (n: number): string => NUMBERS.format(n);

/** "1 account", "57 accounts". */
export function count(n: number, one: string, many = `${one}s`): string {
  return `${formatNumber(n)} ${n === 1 ? one : many}`;
}

/** "a, b and c". */
export function joinList(words: string[]): string {
  if (words.length < 2) return words.join('');
  return `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}

/** With a capital at its beginning, as a sentence has it. */
export const capital = (text: string): string =>
  // An address stays as it is written.
  /^[a-z][a-z+.-]*:\S/.test(text) ? text : text.slice(0, 1).toUpperCase() + text.slice(1);

/** An amount of money as people read it: "1,102.00". */
export const amount = (text: string): string =>
  Number(text).toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
