import { useEffect, useRef, useState, type RefObject } from 'react';

/** The size of an element, and a number that changes with the colours of the page. */
export function useSize<T extends HTMLElement>(): [RefObject<T | null>, { width: number; height: number }, number] {
  const node = useRef<T>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [theme, setTheme] = useState(0);
  useEffect(() => {
    if (!node.current) return undefined;
    const sizes = new ResizeObserver(([entry]) =>
      setSize({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    sizes.observe(node.current);
    const themes = new MutationObserver(() => setTheme((n) => n + 1));
    themes.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => {
      sizes.disconnect();
      themes.disconnect();
    };
  }, []);
  return [node, size, theme];
}
