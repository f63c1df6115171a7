import { createSocket } from 'node:dgram';

import { readAddress } from '@old-echo/core/desk/address';
import { type LinkTrial, MOST_LISTED, type UnfitSetting } from '@old-echo/core/desk/link-trial';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { addressesOf } from '@old-echo/core/desk/state';

import { decode, encodeBundles, encodeMessage, int, type Message } from './codec';
import * as protocol from './protocol';
import { stripPatterns } from './strip-patterns';
import { NOTHING_FOUND, roundTrips } from './trial-result';
import { fromArguments } from './values';

interface TriedDesk {
  readonly profile: Profile;
  readonly host: string;
  readonly port: number;
}

/** How long a desk has to say who it is, and how often it is asked, in ms. */
const HELLO_WAIT_MS = 1500;
const HELLO_EVERY_MS = 150;
/** How long its name may take to be found, in ms. */
const NAME_WAIT_MS = 5000;
const PINGS = 20;
const PING_EVERY_MS = 25;
/** After so long without an answer no more is waited for, in ms. */
const QUIET_MS = 400;
/** How often it is asked for what did not answer: at 10 % loss, both ways, one setting in 700 stays out. */
const ROUNDS = 4;
const PACKET_EVERY_MS = 5;

/**
 * Looks at a desk from a socket of its own: who answers, how fast, and which settings of a profile. Moves nothing on it, and does not
 * reject: what is wrong is told.
 */
export async function tryLink({ profile, host, port }: TriedDesk): Promise<LinkTrial> {
  const talk = new Talk();
  try {
    if (!(await talk.connect(host, port))) return { ...NOTHING_FOUND, desk: null, why: `There is no way to ${host}.` };
    const desk = await askWho(talk);
    if (!desk) {
      const why = talk.isRefused ? 'No desk listens' : 'Nothing answers';
      return { ...NOTHING_FOUND, desk, why: `${why} at ${host}:${port}.` };
    }
    if (desk.profileId !== profile.id)
      return { ...NOTHING_FOUND, desk, why: `A ${desk.name} answers at ${host}:${port}, not a ${profile.name}.` };
    const way = await measureWay(talk);
    return { desk, why: '', ...way, ...(await readEverything(talk, profile)) };
  } finally {
    talk.close();
  }
}

/** One socket that speaks with one address, and hears nobody else. */
class Talk {
  /** Whether its computer said that nothing listens there. */
  isRefused = false;
  private readonly socket = createSocket({ type: 'udp4', recvBufferSize: 4 * 1024 * 1024 });
  private hears: (messages: readonly Message[]) => void = () => undefined;

  constructor() {
    this.socket.on('error', (error) => {
      if ('code' in error && error.code === 'ECONNREFUSED') this.isRefused = true;
    });
    this.socket.on('message', (bytes) => {
      const messages = decode(bytes);
      if (messages) this.hears(messages);
    });
  }

  /** Whether there is such an address; a name that nobody knows may take long to find out. */
  connect(host: string, port: number): Promise<boolean> {
    const found = new Promise<boolean>((resolve) =>
      // Called with an error where there is none; its types do not say so.
      this.socket.connect(port, host, (...failed: unknown[]) => resolve(failed[0] == null)),
    );
    return Promise.race([found, pause(NAME_WAIT_MS).then(() => false)]);
  }

  hear(listener: (messages: readonly Message[]) => void): void {
    this.hears = listener;
  }

  send(packet: Uint8Array): void {
    this.socket.send(packet, (error) => {
      if (error && 'code' in error && error.code === 'ECONNREFUSED') this.isRefused = true;
    });
  }

  close(): void {
    this.socket.close();
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function askWho(talk: Talk): Promise<LinkTrial['desk']> {
  const answered = new Promise<LinkTrial['desk']>((resolve) =>
    talk.hear(([head]) => {
      const [profileId, name] = head?.args ?? [];
      if (head?.address === protocol.DESK)
        resolve({ profileId: String(profileId?.value).slice(0, 60), name: String(name?.value).slice(0, 60) });
    }),
  );
  const ask = () => talk.send(encodeMessage({ address: protocol.HELLO, args: [] }));
  ask();
  const asking = setInterval(ask, HELLO_EVERY_MS);
  const desk = await Promise.race([answered, pause(HELLO_WAIT_MS).then(() => null)]);
  clearInterval(asking);
  return desk;
}

/** Round trips of small packets, and how many did not come back. */
async function measureWay(talk: Talk): Promise<Pick<LinkTrial, 'roundTrip' | 'packets' | 'lost'>> {
  const [sent, trips] = [new Map<number, number>(), new Map<number, number>()];
  talk.hear(([head]) => {
    const number = Number(head?.args[0]?.value);
    const at = sent.get(number);
    if (head?.address === protocol.PONG && at !== undefined && !trips.has(number))
      trips.set(number, performance.now() - at);
  });
  for (let number = 1; number <= PINGS; number++) {
    sent.set(number, performance.now());
    talk.send(encodeMessage({ address: protocol.PING, args: [int(number)] }));
    await pause(PING_EVERY_MS);
  }
  if (trips.size < PINGS) await pause(QUIET_MS);
  return roundTrips([...trips.values()], PINGS);
}

/** Which settings of a profile a desk answers, and with what. */
async function readEverything(
  talk: Talk,
  profile: Profile,
): Promise<Pick<LinkTrial, 'settings' | 'answered' | 'unanswered' | 'unasked' | 'missing' | 'unfit'>> {
  const all = addressesOf(profile);
  const [missing, unfit] = [new Set(all), new Map<string, string>()];
  let heardAt = 0;
  talk.hear(([head, ...values]) => {
    if (head?.address !== protocol.VALUES) return;
    heardAt = performance.now();
    for (const { address, args } of values) {
      const name = address.slice(1);
      const spec = missing.has(name) && readAddress(name) ? specOf(profile, name) : undefined;
      const answer = spec && fromArguments(spec, args);
      if (!answer) continue;
      missing.delete(name);
      if (!answer.ok) unfit.set(name, answer.why);
    }
  });
  for (let round = 0; round < ROUNDS && missing.size > 0; round++) {
    const head = () => ({ address: protocol.READ, args: [int(round + 1)] });
    const again = () => [...missing].map((address) => ({ address: `/${address}`, args: [] }));
    const packets =
      round === 0
        ? profile.strips.flatMap((strip) => encodeBundles(stripPatterns(profile, strip), head))
        : encodeBundles(again(), head);
    await sendPaced(talk, profile, packets);
    heardAt = Math.max(heardAt, performance.now());
    while (missing.size > 0 && performance.now() - heardAt < QUIET_MS) await pause(20);
  }
  const first: UnfitSetting[] = [...unfit].slice(0, MOST_LISTED).map(([address, why]) => ({ address, why }));
  return {
    settings: all.length,
    answered: all.length - missing.size - unfit.size,
    unanswered: missing.size,
    unasked: 0,
    missing: [...missing].slice(0, MOST_LISTED),
    unfit: first,
  };
}

/** No faster than the desk takes it; a whole strip is a long answer to a short question. */
async function sendPaced(talk: Talk, { pace }: Profile, packets: readonly Uint8Array[]): Promise<void> {
  for (const packet of packets) {
    talk.send(packet);
    await pause(Math.max(PACKET_EVERY_MS, pace === undefined ? 0 : packet.length / (pace / 1000)));
  }
}
