/** What is said where the browser keeps a page from copying. */
export const NOT_COPIED = 'The browser did not allow copying';

/** Puts a text on the clipboard; false where the browser keeps a page from that, as on an address without HTTPS. */
export async function copy(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}
