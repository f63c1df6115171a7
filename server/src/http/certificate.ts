import { readFileSync } from 'node:fs';

import type { RequestHandler } from 'express';

import { Fault } from '@old-echo/core/fault/fault';

import type { Config } from './config';

/** By which a phone knows that it can trust it (RFC 2585, 4.2, gives no type for authorities; phones know this one). */
const CERTIFICATE_TYPE = 'application/x-x509-ca-cert';

/** What others on the network know this machine by; nothing where they do not reach it. @throws Fault `refused-input` */
export function certificateOf({ certificate, key }: Config): { cert: Buffer; key: Buffer } | undefined {
  if (!certificate) return undefined;
  const read = (file: string, name: string) => {
    try {
      return readFileSync(file);
    } catch {
      throw new Fault('refused-input', `The file ${name} names cannot be read: ${file}.`, 'Nothing was started.');
    }
  };
  return { cert: read(certificate, 'OLD_ECHO_CERTIFICATE'), key: read(key, 'OLD_ECHO_KEY') };
}

/** Gives phones the authority that has signed it. The folder of data begins with a dot. */
export const authorityFile =
  (authority: string): RequestHandler =>
  (_req, res) =>
    res.type(CERTIFICATE_TYPE).sendFile(authority, { dotfiles: 'allow' });
