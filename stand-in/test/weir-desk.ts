import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { MappedOscLink } from '@old-echo/desk-link/mapped-osc-link';
import { weirSource } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { type FrontQuirks, WeirFront } from '../src/weir-front';

/** The map that ships with the desk, as JSON that a test may change. */
export interface WeirLink extends Record<string, unknown> {
  settings: { setting: string; address: string; value?: unknown; ask?: unknown; argument?: unknown; type: string }[];
  values: Record<string, unknown>;
  changes: Record<string, unknown>;
  pace: number;
}

/** @param counts of strips, where less than all of the desk is enough */
export const weirWith = (change: (link: WeirLink) => void, counts: Readonly<Record<string, number>> = {}): Profile => {
  const source = structuredClone(weirSource) as { link: WeirLink; families: { id: string; count: number }[] };
  change(source.link);
  for (const family of source.families) family.count = counts[family.id] ?? family.count;
  return parseProfile(source);
};

/** A desk with a language of its own, and a way to link to it by a map. */
export async function openWeir(quirks: Partial<FrontQuirks> = {}, profile: Profile = weirWith(() => undefined)) {
  const desk = new SimulatedDesk(profile);
  const front = new WeirFront(desk, quirks);
  const port = await front.open(0);
  const map = profile.link;
  if (!map) throw new Error('The profile has no map.');
  const link = () => new MappedOscLink({ profile, map, host: '127.0.0.1', port, beat: 50, patience: 600 });
  return { profile, desk, front, port, link };
}
