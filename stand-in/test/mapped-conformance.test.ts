import type { SettingsByAddress } from '@old-echo/core/desk/state';
import { linkConformance } from '@old-echo/desk-link/conformance';

import type { FrontQuirks } from '../src/weir-front';
import { openWeir, type WeirLink, weirWith } from './weir-desk';

const SETTINGS = { number: 'in.1/fader/level', step: 0.1, toggle: 'in.1/mute/on', text: 'in.1/label/name' };

/** A desk that numbers nothing and says nothing of what it does not take: what rests on that is not claimed. */
const CAN = { numbers: false, refusesAloud: false };

const ways: readonly [name: string, quirks: Partial<FrontQuirks>, change: (link: WeirLink) => void][] = [
  ['a desk that tells all who speak to it', {}, () => undefined],
  [
    'one that tells only those who ask for it again and again',
    { tells: 'subscribers' },
    (link) => (link.changes = { by: 'subscription', address: '/keep', arguments: [1], every: 500 }),
  ],
  ['one that tells nothing', { tells: 'nobody' }, (link) => (link.changes = { by: 'asking', every: 200 })],
  ['one over TCP, in packets of SLIP', { transport: 'tcp' }, (link) => (link['transport'] = 'tcp')],
];

for (const [name, quirks, change] of ways)
  linkConformance(
    `A link map to ${name}`,
    async () => {
      const { profile, desk, front, port, link } = await openWeir(quirks, weirWith(change, { in: 3, mix: 2 }));
      return {
        profile,
        settings: () => desk.settings(),
        hands: (moves: SettingsByAddress) => void front.hands(moves),
        // What overtakes is not told apart where nothing is numbered; and nothing is lost on a connection.
        spoil: (share) => front.misbehave(quirks.transport === 'tcp' ? {} : { loss: share, seed: 7 }),
        freeze: (frozen) => front.freeze(frozen),
        refuse: (addresses) => front.refuse(addresses),
        restart: async () => {
          await front.close();
          await front.open(port);
        },
        link,
        close: () => front.close(),
      };
    },
    SETTINGS,
    CAN,
  );
