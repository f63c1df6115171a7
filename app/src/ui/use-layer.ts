import { useEffect, useRef } from 'react';

/** The element of everything that can be covered. */
export const PAGE = 'page';
const page = (): HTMLElement | null => document.getElementById(PAGE);

/** What the browser's history holds of a step: the page, as the router numbers it, and how many layers lay over it. */
interface Step {
  readonly id?: string;
  readonly layer?: number;
}

interface Layer {
  readonly close: () => void;
}

/** What lies over the page, the newest last. */
const layers: Layer[] = [];
/** The step the browser stands on. When it tells that it went back, it no longer says from where. */
let here: Step | null = null;

/** The step that a state of the history tells of. */
const stepOf = (state: unknown): Step | null => state as Step | null;
const depth = (step: Step | null): number => step?.layer ?? 0;

// Heard before the router hears it: the router registers once it is drawn.
if (typeof window !== 'undefined') {
  const { history } = window;
  const [push, replace] = [history.pushState.bind(history), history.replaceState.bind(history)];
  here = stepOf(history.state);
  history.pushState = (...step) => {
    push(...step);
    here = stepOf(history.state);
  };
  history.replaceState = (state: Step | null, ...rest) => {
    // The page of a step can be told anew; that the step belongs to a layer stays.
    const kept = here?.layer !== undefined && state?.id === here.id ? { ...state, layer: here.layer } : state;
    replace(kept, ...rest);
    here = stepOf(history.state);
  };
  window.addEventListener('popstate', (event) => {
    const from = here;
    here = stepOf(event.state);
    if (from?.id !== here?.id) {
      // Another page: nothing that lay over the one before goes along.
      for (const layer of [...layers]) layer.close();
      return;
    }
    if (depth(from) === depth(here)) return;
    event.stopImmediatePropagation();
    const top = layers.at(-1);
    if (top) top.close();
    // The step of a layer that is closed long since: on in the same direction, as if it were not there.
    else if (depth(here) < depth(from)) history.back();
    else history.forward();
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
    const layer: Layer = { close: () => close.current() };
    const before = document.activeElement;
    layers.push(layer);
    page()?.setAttribute('inert', '');
    // A step of its own in the history, on the same address, for Back to take away; one that was left by another does too.
    if (depth(here) < layers.length) window.history.pushState({ ...here, layer: layers.length }, '');
    return () => {
      layers.splice(layers.indexOf(layer), 1);
      if (layers.length === 0) page()?.removeAttribute('inert');
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
  }, [open]);
}
