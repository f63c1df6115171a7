import { createSocket, type RemoteInfo } from 'node:dgram';

import type { FoundDesk } from '@old-echo/core/desk/link-trial';
import { MAX_PROFILE_ID } from '@old-echo/core/desk/profile-source';
import { UNPRINTABLE } from '@old-echo/core/desk/setting';

import { ownNetworks } from './broadcast-addresses';
import { decode, encodeMessage } from './codec';
import * as protocol from './protocol';

/** How often it is asked, and how long answers may take after the last time, in ms. */
const ASK_AT_MS = [0, 150, 300];
const WAIT_MS = 300;
/** More answers than that are no studio. */
const MOST_FOUND = 50;
const MAX_NAME_LENGTH = 60;

/** Asks every network that this computer is on, itself among them, which desks are there. Nothing on them is moved. */
export async function findDesks(port = protocol.FIND_PORT): Promise<FoundDesk[]> {
  const found = new Map<string, FoundDesk>();
  const socket = createSocket('udp4');
  // A network that cannot be asked is left out.
  socket.on('error', () => undefined);
  socket.on('message', (bytes, from) => {
    const desk = greeting(bytes, from);
    if (desk && found.size < MOST_FOUND) found.set(`${desk.host}:${desk.port}`, desk);
  });
  try {
    await new Promise<void>((resolve) => socket.bind(0, resolve));
    socket.setBroadcast(true);
    const hello = encodeMessage({ address: protocol.HELLO, args: [] });
    const ask = () => ownNetworks().forEach(({ broadcast }) => socket.send(hello, port, broadcast, () => undefined));
    const asking = ASK_AT_MS.map((ms) => setTimeout(ask, ms));
    await new Promise((resolve) => setTimeout(resolve, (ASK_AT_MS.at(-1) ?? 0) + WAIT_MS));
    asking.forEach(clearTimeout);
    return [...found.values()].sort((a, b) => a.name.localeCompare(b.name) || a.port - b.port);
  } finally {
    socket.close();
  }
}

function greeting(bytes: Uint8Array, from: RemoteInfo): FoundDesk | undefined {
  const [head] = decode(bytes) ?? [];
  const [profileId, name] = (head?.args ?? []).map(({ value }) => String(value));
  if (head?.address !== protocol.DESK || !profileId || !name) return undefined;
  const isReadable = profileId.length <= MAX_PROFILE_ID && name.length <= MAX_NAME_LENGTH && !UNPRINTABLE.test(name);
  return isReadable ? { profileId, name, host: from.address, port: from.port } : undefined;
}
