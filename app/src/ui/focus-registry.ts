import { useCallback, useRef } from 'react';
import type { View } from 'react-native';

import { elementOf } from './web-only';

/** Things on the page that keys lead to. */
export type FocusKind =
  'scene' | 'preset' | 'strip' | 'restore' | 'caution to check' | 'restore button' | 'library search';

const CONTROL = 'input, button, [role=button], [role=link], [tabindex="0"]';
const registered = new Map<FocusKind, Map<HTMLElement, string>>();

/** The ref of something that keys lead to: a control, or what has one in it. */
export function useFocusTarget(kind: FocusKind, id = ''): (view: View | null) => void {
  const held = useRef<HTMLElement | null>(null);
  return useCallback(
    (view) => {
      const known = registered.get(kind) ?? new Map<HTMLElement, string>();
      registered.set(kind, known);
      if (held.current) known.delete(held.current);
      held.current = elementOf(view);
      if (held.current) known.set(held.current, id);
    },
    [kind, id],
  );
}

/** All of a kind that is on the page, in the order in which it stands there. */
const targets = (kind: FocusKind): HTMLElement[] =>
  [...(registered.get(kind)?.keys() ?? [])].sort((a, b) =>
    a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1,
  );

function focus(target: HTMLElement | undefined): void {
  const control = target?.matches(CONTROL) ? target : target?.querySelector<HTMLElement>(CONTROL);
  control?.focus();
  target?.scrollIntoView({ block: 'nearest' });
}

/** Which of a kind is focused, by its place among them; below 0 where none is. */
const focusedAt = (all: readonly HTMLElement[]): number =>
  all.findIndex((element) => element.contains(document.activeElement));

/** Focuses the first of a kind, where there is one. */
export const focusFirst = (kind: FocusKind): void => focus(targets(kind)[0]);

/** Focuses what stands `by` places below the focused one of a kind, or the first. */
export function focusNext(kind: FocusKind, by: number): void {
  const all = targets(kind);
  const at = focusedAt(all);
  focus(all[at < 0 ? 0 : Math.min(all.length - 1, Math.max(0, at + by))]);
}

/** The id of the focused one of a kind, or undefined. */
export function focusedId(kind: FocusKind): string | undefined {
  const all = targets(kind);
  const focused = all[focusedAt(all)];
  return focused && registered.get(kind)?.get(focused);
}
