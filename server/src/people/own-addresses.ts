import { networkInterfaces } from 'node:os';

import type { Network } from './who-asks';

/** Where others on the network reach this machine, the likeliest first; nothing where they do not. */
export function addressesOf({ port, isPlain }: Network): string[] {
  const at = port();
  if (at === undefined) return [];
  const found = Object.values(networkInterfaces()).flatMap((all = []) =>
    all.flatMap(({ family, internal, address }) => (family === 'IPv4' && !internal ? [address] : [])),
  );
  const hosts = found.length > 0 ? found : ['127.0.0.1'];
  return hosts.map((host) => `${isPlain ? 'http' : 'https'}://${host}:${at}`);
}
