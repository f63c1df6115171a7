import type { IncomingMessage } from 'node:http';
import { isIP } from 'node:net';

import type { RequestHandler } from 'express';

import { Fault } from '@old-echo/core/fault/fault';

/**
 * Why a request is not one of this server's own pages, or undefined. A name that someone else owns can be made to lead here,
 * so only this machine's own names and plain addresses count as `Host`; and whatever a page of another origin asks for is
 * refused, whether it could read the answer or not (RFC 6455, 10.2; RFC 9110, 7.2).
 * @param ownName the name or address the server listens on
 */
export function whyForeign(request: Asked, ownName: string): string | undefined {
  const { headers } = request;
  const host = hostName(`http://${headers.host ?? ''}`);
  if (host === undefined) return 'The request does not say which host it is for.';
  if (host !== 'localhost' && host !== ownName.toLowerCase() && isIP(host.replace(/^\[|\]$/g, '')) === 0)
    return `Old Echo is not reached under the name ${host}.`;
  const { origin } = headers;
  const from = headers['sec-fetch-site'];
  const isOwn =
    origin === undefined
      ? from === undefined || OWN_SITE.has(from) || isLinkHere(request)
      : sameHost(origin, headers.host);
  return isOwn ? undefined : 'A page from somewhere else asked for this.';
}

/** What browsers call a page of ours, and a person who typed the address (Fetch Metadata, `Sec-Fetch-Site`). */
const OWN_SITE: ReadonlySet<unknown> = new Set(['same-origin', 'none']);

const url = (text: string): URL | undefined => (URL.canParse(text) ? new URL(text) : undefined);
const hostName = (text: string): string | undefined => url(text)?.hostname || undefined;

const sameHost = (origin: string, host = ''): boolean =>
  ['http:', 'https:'].some((scheme) => url(`${scheme}//${host}`)?.origin === origin);

/** Whether somebody follows a link to a page of the app: that only shows it, at the top of a window. */
const isLinkHere = ({ method, headers, url: path = '' }: Asked): boolean =>
  method === 'GET' &&
  headers['sec-fetch-mode'] === 'navigate' &&
  headers['sec-fetch-dest'] === 'document' &&
  !path.startsWith('/api/');

type Asked = Pick<IncomingMessage, 'headers' | 'method' | 'url'>;

/** Lets only requests of the server's own pages, and of programs that are no page, through. */
export const ownPagesOnly =
  (ownName: string): RequestHandler =>
  (req, _, next) => {
    const why = whyForeign(req, ownName);
    if (why) throw new Fault('forbidden', why, 'Nothing was changed. Open Old Echo under the address it printed.');
    next();
  };
