import { useEffect } from 'react';

/**
 * Stands in for the module by which dialogues keep the page behind them from scrolling: that one writes a style element into the page,
 * which the server's content policy forbids. The same rules come as an adopted sheet.
 */
export function stylesheetSingleton() {
  let users = 0;
  const sheet = new CSSStyleSheet();
  return {
    add(rules: string) {
      users += 1;
      if (users > 1) return;
      sheet.replaceSync(rules);
      document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
    },
    remove() {
      users -= 1;
      if (users === 0) document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== sheet);
    },
  };
}

/** The same while a component stands. */
export function styleHookSingleton() {
  const sheet = stylesheetSingleton();
  return (rules: string) => {
    useEffect(() => {
      sheet.add(rules);
      return () => sheet.remove();
    }, [rules]);
  };
}

/** The same as a component. */
export function styleSingleton() {
  const useRules = styleHookSingleton();
  return function Rules({ styles }: { styles: string }) {
    useRules(styles);
    return null;
  };
}
