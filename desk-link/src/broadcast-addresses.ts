import { networkInterfaces } from 'node:os';

const toNumber = (address: string): number => address.split('.').reduce((all, part) => all * 256 + Number(part), 0);

const toAddress = (number: number): string => [24, 16, 8, 0].map((bits) => (number >>> bits) & 255).join('.');

/** The address that reaches every computer of a network at once: that of one of them, with all bits behind the mask set. RFC 919. */
export const broadcastOf = (address: string, netmask: string): string =>
  toAddress((toNumber(address) | ~toNumber(netmask)) >>> 0);

/** The IPv4 networks that this computer is on, its own loopback among them: its address in each, and the one that reaches all. */
export const ownNetworks = (): { readonly address: string; readonly broadcast: string }[] =>
  Object.values(networkInterfaces()).flatMap((addresses = []) =>
    addresses
      .filter(({ family }) => family === 'IPv4')
      .map(({ address, netmask }) => ({ address, broadcast: broadcastOf(address, netmask) })),
  );
