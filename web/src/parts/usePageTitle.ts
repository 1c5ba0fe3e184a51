import { useEffect } from 'react';

/** Names the page, in the browser's tab and its history. */
export function usePageTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · Lean Ladder`;
  }, [title]);
}
