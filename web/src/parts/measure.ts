let context: CanvasRenderingContext2D | null | undefined;

const FAMILY = "'Atkinson Hyperlegible Next Variable', sans-serif";

/** The width of a text in CSS pixels; about right where nothing can be drawn. */
export function textWidth(text: string, size: number, weight = 400): number {
  if (context === undefined)
    context =
      typeof CanvasRenderingContext2D === 'undefined' ? null : document.createElement('canvas').getContext('2d');
  if (!context) return text.length * size * 0.52;
  context.font = `${weight} ${size}px ${FAMILY}`;
  return context.measureText(text).width;
}

/** The text, shortened with an ellipsis where it is wider than there is room. */
export function fit(text: string, room: number, size: number, weight = 400): string {
  if (textWidth(text, size, weight) <= room) return text;
  const letters = [...text];
  let low = 0;
  let high = letters.length;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (textWidth(letters.slice(0, middle).join('').trimEnd() + '…', size, weight) <= room) low = middle;
    else high = middle - 1;
  }
  return letters.slice(0, low).join('').trimEnd() + '…';
}

/** The text broken into lines at spaces, at most so many; the last is shortened where it must be. */
export function wrap(text: string, room: number, size: number, lines: number, weight = 400): string[] {
  const out: string[] = [];
  let line = '';
  const words = text.split(' ');
  for (let i = 0; i < words.length; i++) {
    const longer = line === '' ? (words[i] ?? '') : `${line} ${words[i]}`;
    if (line !== '' && textWidth(longer, size, weight) > room) {
      if (out.length === lines - 1) {
        out.push(fit([line, ...words.slice(i)].join(' '), room, size, weight));
        return out;
      }
      out.push(line);
      line = words[i] ?? '';
    } else line = longer;
  }
  out.push(fit(line, room, size, weight));
  return out;
}
