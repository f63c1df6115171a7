import type { LinkMap } from '@old-echo/core/desk/link-map/link-map';
import { type LinkTrial, MOST_LISTED } from '@old-echo/core/desk/link-trial';
import type { Profile } from '@old-echo/core/desk/profile';

import { decodeWidely, encodeMessage, type WireMessage } from './codec';
import { MappedMessages, questionMessage } from './mapped-messages';
import { openTransport } from './open-transport';
import type { DeskPlace } from './transport';
import { NOTHING_FOUND, roundTrips } from './trial-result';

interface TriedDesk extends DeskPlace {
  readonly profile: Profile;
  readonly map: LinkMap;
}

/** How long a desk has to show that it is there, and how often it is asked, in ms. */
const ALIVE_WAIT_MS = 1500;
const ALIVE_EVERY_MS = 150;
const SIGNS = 20;
/** How often it is asked for what did not answer. */
const ROUNDS = 4;
/** Beyond the wait of its map, an answer may take so long, in ms. */
const MORE_WAIT_MS = 200;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Looks at a desk with a language of its own, by the map in its profile: whether it is there, how fast, and which settings answer. Moves
 * nothing on it, and does not reject: what is wrong is told.
 */
export async function tryMappedLink({ profile, map, host, port }: TriedDesk): Promise<LinkTrial> {
  let hears: (message: WireMessage) => void = () => undefined;
  const transport = openTransport(
    map.transport,
    { host, port },
    {
      onReady: () => undefined,
      onPacket: (bytes) => decodeWidely(bytes).forEach((message) => hears(message)),
    },
  );
  const send = (message: WireMessage) => transport.send(encodeMessage(message));
  /** Whether the desk shows that it is there within a time, asked once. */
  const isThere = (within: number): Promise<boolean> => {
    const answered = new Promise<boolean>((resolve) => {
      hears = ({ address }) => {
        if (address === map.alive.answer) resolve(true);
      };
    });
    transport.connect();
    send(questionMessage(map.alive));
    return Promise.race([answered, pause(within).then(() => false)]);
  };
  try {
    let found = false;
    for (const until = performance.now() + ALIVE_WAIT_MS; !found && performance.now() < until;)
      found = await isThere(ALIVE_EVERY_MS);
    if (!found) return { ...NOTHING_FOUND, why: `Nothing at ${host}:${port} answers ${map.alive.address}.` };
    const trips: number[] = [];
    for (let i = 0; i < SIGNS; i++) {
      const from = performance.now();
      if (await isThere(map.wait + MORE_WAIT_MS)) trips.push(performance.now() - from);
    }
    const messages = new MappedMessages(map);
    const asked = [...map.settings.values()].filter(({ question }) => question);
    const [missing, unfit] = [new Set(asked.map(({ setting }) => setting)), new Map<string, string>()];
    hears = (message) => {
      for (const { setting, wire, value } of messages.read(message)) {
        missing.delete(setting);
        if (value === undefined) unfit.set(setting, `${String(wire).slice(0, 60)} has no value`);
        else unfit.delete(setting);
      }
    };
    for (let round = 0; round < ROUNDS && missing.size > 0; round++) {
      for (const question of messages.questionsFor(missing)) {
        send(question);
        await pause(1000 / map.pace);
      }
      await pause(map.wait + MORE_WAIT_MS);
    }
    return {
      desk: { profileId: profile.id, name: profile.name },
      why: '',
      ...roundTrips(trips, SIGNS),
      settings: asked.length,
      answered: asked.length - missing.size - unfit.size,
      unanswered: missing.size,
      unasked: map.settings.size - asked.length,
      missing: [...missing].slice(0, MOST_LISTED),
      unfit: [...unfit].slice(0, MOST_LISTED).map(([address, why]) => ({ address, why })),
    };
  } finally {
    await transport.close();
  }
}
