import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import type { StripState } from '@old-echo/core/desk/state';

/** What a desk calls the colour of a strip: undefined where its strips have none, and null where nobody has given this one any. */
export function stripColourName(
  profile: Profile,
  strip: string,
  now: StripState | undefined,
): string | null | undefined {
  const spec = stripFamily(profile, strip)?.settings['label/colour'];
  const colour = now?.['label/colour'];
  if (!spec || typeof colour !== 'string') return undefined;
  return colour === spec.default ? null : colour;
}
