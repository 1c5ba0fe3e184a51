const NAMES = new Intl.DisplayNames('en-GB', { type: 'language' });

/** What a language is called; the tag where it has no name. */
export function languageName(tag: string): string {
  try {
    return NAMES.of(tag) ?? tag;
  } catch {
    return tag;
  }
}
