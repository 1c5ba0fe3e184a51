import { useEffect, useState } from 'react';

export type Theme = 'light' | 'dark';

/** The theme of this browser: the one chosen, else the one that the system asks for. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(() => {
    const kept = localStorage.getItem('theme');
    if (kept === 'light' || kept === 'dark') return kept;
    return window.matchMedia?.('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
  });
  useEffect(() => {
    document.documentElement.dataset['theme'] = theme;
  }, [theme]);
  return [
    theme,
    (next) => {
      localStorage.setItem('theme', next);
      setTheme(next);
    },
  ];
}
