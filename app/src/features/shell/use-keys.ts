import { useEffect, useRef } from 'react';

/** Keys and what they do while a screen is open; text fields keep their keys to themselves. */
export function useKeys(keys: Readonly<Record<string, () => void>>): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      const typing = target?.closest('input, textarea, [contenteditable]') != null;
      if (typing || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const act = current.current[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, []);
}

/**
 * Walks the rows of a screen with the arrow keys: every element whose test id begins with `prefix`, in the order they
 * stand on the page. Enter opens the one that is focused. Not while `on` is false.
 */
export function useRowKeys(prefix: string, on = true): void {
  const walk = (way: number) => () => {
    const rows = [...document.querySelectorAll<HTMLElement>(`[data-testid^="${prefix}"]`)];
    const at = rows.findIndex((row) => row === document.activeElement);
    const next = rows[at < 0 ? 0 : Math.min(rows.length - 1, Math.max(0, at + way))];
    next?.focus();
    next?.scrollIntoView({ block: 'nearest' });
  };
  useKeys(on ? { ArrowDown: walk(1), ArrowUp: walk(-1) } : {});
}
