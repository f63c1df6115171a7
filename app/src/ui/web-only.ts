import { useCallback } from 'react';
import type { View, ViewStyle } from 'react-native';

/** A style of the web that React Native's types leave out. */
export const webStyle = (style: Readonly<Record<string, string | number>>): ViewStyle =>
  // React Native for the web hands on what it does not know.
  style;

/** What a view hears of the browser that React Native's types leave out. */
export const webProps = (handlers: Readonly<Record<string, unknown>>): object => handlers;

/** A view as the element that it is in a browser, or null where there is none. */
export const elementOf = (view: unknown): HTMLElement | null => (view instanceof HTMLElement ? view : null);

/** A view's ref for what wants its element. */
export const useElementRef = (take: (element: HTMLElement | null) => void) =>
  useCallback((view: View | null) => take(elementOf(view)), [take]);
