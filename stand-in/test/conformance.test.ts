import { linkConformance } from '@old-echo/desk-link/conformance';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

linkConformance(
  'OSC over UDP',
  async () => {
    const desk = new SimulatedDesk(skiff);
    const front = new DeskServer(desk);
    const port = await front.open(0);
    return {
      profile: skiff,
      settings: () => desk.settings(),
      hands: (moves) => void front.hands(moves),
      spoil: (share) => front.misbehave({ loss: share, reorder: share, seed: 7 }),
      freeze: (frozen) => front.freeze(frozen),
      refuse: (addresses) => front.refuse(addresses),
      restart: async () => {
        await front.close();
        await front.open(port);
      },
      link: () => new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50, patience: 600 }),
      close: () => front.close(),
    };
  },
  { number: 'in.1/fader/level', step: 0.1, toggle: 'in.1/mute/on', text: 'in.1/label/name' },
);
