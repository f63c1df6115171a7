import { useId } from 'react';

/**
 * Joins a control that has a name of its own to the text inside it that says more, so that a screen reader reads both.
 * @returns what to spread on the control, and on the text
 */
export function useDescription() {
  const id = useId();
  return { control: { 'aria-describedby': id }, text: { nativeID: id } };
}
