import { useEffect, useState, useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dark';

const darkSystem = () => window.matchMedia?.('(prefers-color-scheme: dark)');

function onSystemChange(told: () => void): () => void {
  const system = darkSystem();
  system?.addEventListener('change', told);
  return () => system?.removeEventListener('change', told);
}

/** The theme of this browser: the one chosen, else the one that the system asks for, also when that changes its mind. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [chosen, choose] = useState<Theme | undefined>(() => {
    const kept = localStorage.getItem('theme');
    return kept === 'light' || kept === 'dark' ? kept : undefined;
  });
  const system = useSyncExternalStore<Theme>(onSystemChange, () => (darkSystem()?.matches ? 'dark' : 'light'));
  useEffect(() => {
    if (chosen) document.documentElement.dataset['theme'] = chosen;
  }, [chosen]);
  return [
    chosen ?? system,
    (next) => {
      localStorage.setItem('theme', next);
      choose(next);
    },
  ];
}
