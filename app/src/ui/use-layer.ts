import { useEffect, useRef } from 'react';

/** The element of everything that can be covered. */
export const PAGE = 'page';
const page = (): HTMLElement | null => document.getElementById(PAGE);

interface Layer {
  readonly close: () => void;
  /** Whether going back has taken its step out of the history already. */
  gone: boolean;
}

/** What lies over the page, the newest last. */
const layers: Layer[] = [];
/** Steps back that are on their way only to tidy the history up. */
let tidying = 0;
/** How long a choice in a layer has to lead somewhere before its step is taken out of the history, in ms. */
const SETTLED_MS = 300;
/** When another document was last asked for (a page, or a file to keep): a step back would call that off. */
let askedAt = -Infinity;
/** Steps that anyone has taken in the history so far. */
let steps = 0;

// Heard before the router hears it: the router registers once it is drawn.
if (typeof window !== 'undefined') {
  window.addEventListener('beforeunload', () => {
    askedAt = performance.now();
  });
  window.addEventListener('popstate', (event) => {
    steps++;
    if (tidying > 0) {
      tidying--;
      event.stopImmediatePropagation();
      return;
    }
    const top = layers.at(-1);
    if (!top) return;
    event.stopImmediatePropagation();
    top.gone = true;
    top.close();
  });
}

/**
 * While it is open, something lies over the page: what is behind is out of reach for keyboard and readers, the browser's Back
 * closes it and nothing else, and the focus goes back to where it was once it is closed.
 */
export function useLayer(open: boolean, onClose: () => void): void {
  const close = useRef(onClose);
  useEffect(() => {
    close.current = onClose;
  });
  useEffect(() => {
    if (!open) return;
    const layer: Layer = { close: () => close.current(), gone: false };
    const before = document.activeElement;
    layers.push(layer);
    page()?.setAttribute('inert', '');
    // A step of its own in the history, on the same address, for Back to take away.
    window.history.pushState(window.history.state, '');
    const address = window.location.href;
    return () => {
      layers.splice(layers.indexOf(layer), 1);
      if (layers.length === 0) page()?.removeAttribute('inert');
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
      if (!layer.gone) stepBack(address);
    };
  }, [open]);
}

/** Takes the step of a closed layer out of the history, unless what was chosen in it has led to another page by then. */
function stepBack(address: string): void {
  const before = steps;
  setTimeout(() => {
    if (steps !== before || window.location.href !== address || performance.now() - askedAt < 3 * SETTLED_MS) return;
    tidying++;
    window.history.back();
  }, SETTLED_MS);
}
