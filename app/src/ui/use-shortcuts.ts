import { useEffect, useRef, useState } from 'react';

import { type FocusKind, focusNext } from './focus-registry';

type Keys = Readonly<Record<string, () => void>>;

interface Opened {
  readonly keys: { readonly current: Keys };
  /** Whether what is open lies over everything below it: that has no keys meanwhile. */
  readonly over: { readonly current: boolean };
  /** What lies inside another, or was opened later, has the higher one. */
  readonly order: number;
}

/** Handlers of everything open; the innermost gets the key first. */
const open: Opened[] = [];
let opened = 0;

function dispatchKey(event: KeyboardEvent): void {
  const target = event.target instanceof HTMLElement ? event.target : null;
  const typing = target?.closest('input, textarea, [contenteditable]') != null;
  // Escape leaves a field as well as what it is in.
  if ((typing && event.key !== 'Escape') || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented)
    return;
  const top = open.slice(
    Math.max(
      0,
      open.findLastIndex(({ over }) => over.current),
    ),
  );
  const act = top.findLast(({ keys }) => keys.current[event.key])?.keys.current[event.key];
  if (!act) return;
  event.preventDefault();
  act();
}

/**
 * Keys and what they do while a screen is open; text fields keep their keys to themselves. While it lies `over` everything,
 * nothing below has any.
 */
export function useShortcuts(keys: Keys, over = false): void {
  const current = useRef(keys);
  const isOver = useRef(over);
  // What is around is drawn before what lies in it.
  const [order] = useState(() => ++opened);
  useEffect(() => {
    current.current = keys;
    isOver.current = over;
  });
  useEffect(() => {
    const own = { keys: current, over: isOver, order };
    if (open.length === 0) document.addEventListener('keydown', dispatchKey);
    open.push(own);
    open.sort((one, other) => one.order - other.order);
    return () => {
      open.splice(open.indexOf(own), 1);
      if (open.length === 0) document.removeEventListener('keydown', dispatchKey);
    };
  }, [order]);
}

/**
 * Walks the rows of a screen with the arrow keys, in the order they stand on the page. Enter opens the one that is focused. Not while
 * `on` is false.
 */
export function useRowNavigation(kind: FocusKind, on = true): void {
  const walk = (by: number) => () => focusNext(kind, by);
  useShortcuts(on ? { ArrowDown: walk(1), ArrowUp: walk(-1) } : {});
}
