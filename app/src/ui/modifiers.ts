/** Keys that are held while something is pressed. */
export interface Modifiers {
  readonly shift: boolean;
  readonly ctrl: boolean;
}

export const NO_MODIFIERS: Modifiers = { shift: false, ctrl: false };

/** In the browser a press is a click, and knows what is held. */
export function modifiersOf(event: object): Modifiers {
  const { shiftKey, ctrlKey, metaKey } = event as Partial<MouseEvent>;
  return { shift: shiftKey === true, ctrl: ctrlKey === true || metaKey === true };
}
