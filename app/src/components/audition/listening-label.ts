import { displayName } from '@old-echo/core/desk/state';

import type { Audition } from './use-audition';

/** What is listened to, in words: "Main mix", "Main mix · Fiddle only". */
export function listeningLabel({ a, heard }: Audition): string {
  const name = (strip: string) => displayName(a.profile, a.state, strip);
  return heard.solo === null ? name(heard.output) : `${name(heard.output)} · ${name(heard.solo)} only`;
}
