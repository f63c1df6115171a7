import type { Href } from 'expo-router';

/** Where a preset, or a strip of the desk, is put on other strips. */
export const putHref = (
  of: { readonly preset: string } | { readonly strip: string },
  to: readonly string[] = [],
): Href => {
  const what = 'preset' in of ? `preset=${of.preset}` : `strip=${of.strip}`;
  return `/library/apply?${what}${to.length > 0 ? `&to=${to.join(',')}` : ''}`;
};
