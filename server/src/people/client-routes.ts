import { parse } from 'cookie';
import type { Request, Response, Router } from 'express';

import type { MadeClientLink } from '@old-echo/core/contracts/client-link';
import { CLIENT_LINK_ROUTES, CLIENT_ROUTES } from '@old-echo/core/contracts/routes/client-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { ClientLinkRow } from '../database/tables';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { AttemptLimit } from '../secrets/attempt-limit';
import { loudnessOfRender } from '../sound/render-store';
import { sendBounce } from '../sound/send-bounce';
import { packedPiece, pieceNumber, pieceOf, sendPiece } from '../sound/send-piece';
import type { WorkerPool } from '../sound/worker-pool';
import {
  clientLinks,
  makeClientLink,
  renewClientLink,
  type TokenOfLink,
  withdrawClientLink,
} from './client-link-store';
import { addClientNote, choose, clientPage, countOpened, hasSaidWord, mixAt, openedBy, sayWord } from './client-visit';
import { addressesOf } from './own-addresses';
import { isByTls, type Network } from './who-asks';

/** Links for clients, and what is theirs behind them. */
export function clientRoutes(context: ServerContext, pool: WorkerPool, network: Network): Router[] {
  const { db, database, files, live } = context;
  const strangers = new AttemptLimit(db, database, { name: 'listen', points: 30, seconds: 60 });
  const words = new AttemptLimit(db, database, { name: 'word', points: 10, seconds: 300 });

  const made = ({ link, token }: TokenOfLink): MadeClientLink => {
    const path = `/listen/${token}`;
    return { link, path, addresses: addressesOf(network).map((address) => `${address}${path}`) };
  };
  const links = serveRoutes(CLIENT_LINK_ROUTES, {
    clientLinks: ({ params }) => clientLinks(db, params.production),
    makeClientLink: async ({ params, body }) =>
      made(await makeClientLink(db, files, params.production, body, new Date())),
    renewClientLink: async ({ params }) => made(await renewClientLink(db, files, params.id, new Date())),
    withdrawClientLink: ({ params }) => withdrawClientLink(db, params.id, new Date()),
  });

  /** The link that is asked for. @throws Fault `not-found`, `try-later` for who guesses */
  const linkOf = async (req: Request, token: string): Promise<ClientLinkRow> => {
    try {
      return await openedBy(db, token, new Date());
    } catch (error) {
      await strangers.count(req.socket.remoteAddress ?? '');
      throw error;
    }
  };
  /** The same for who may hear it. @throws Fault `wrong-secret` where the word is not said yet */
  const heardLink = async (req: Request, token: string): Promise<ClientLinkRow> => {
    const link = await linkOf(req, token);
    const shown = parse(req.headers.cookie ?? '')[visitCookie(req, link)] ?? '';
    if (!(await hasSaidWord(db, link, shown)))
      throw new Fault('wrong-secret', 'This link asks for a word.', 'Whoever sent it knows it.', 'word');
    return link;
  };
  const changed = async (link: ClientLinkRow) => {
    await live.scenesChanged(link.production_id);
    return clientPage(db, link);
  };
  const clients = serveRoutes(CLIENT_ROUTES, {
    clientPage: async ({ req, params }) => {
      const link = await heardLink(req, params.token);
      await countOpened(db, link, new Date());
      return clientPage(db, link);
    },
    sayWord: async ({ req, res, params, body }) => {
      const link = await linkOf(req, params.token);
      await words.count(link.id);
      keepVisit(req, res, link, await sayWord(db, link, body.word));
      await words.forget(link.id);
      return clientPage(db, link);
    },
    clientPiece: async ({ req, res, params }) => {
      const { sound } = await mixAt(db, await heardLink(req, params.token), params.mix);
      // Whoever may hear it no more is not to find it in between either.
      res.set('Cache-Control', 'private, no-store');
      sendPiece(res, await packedPiece(pool, pieceOf(files.mix(sound), pieceNumber(params.piece))));
    },
    clientFile: async ({ req, res, params }) => {
      const link = await heardLink(req, params.token);
      const { sound, name } = await mixAt(db, link, params.mix);
      if (link.may_download === 0)
        throw new Fault('forbidden', 'This link is for listening.', 'Ask whoever sent it for the file.');
      await sendBounce(
        res,
        pool,
        { file: files.mix(sound), depth: '24', dither: true, loudness: await loudnessOfRender(db, sound) },
        name,
      );
    },
    addClientNote: async ({ req, params, body }) => {
      const link = await heardLink(req, params.token);
      await addClientNote(db, link, body);
      return changed(link);
    },
    choose: async ({ req, params, body }) => {
      const link = await heardLink(req, params.token);
      await choose(db, link, body);
      return changed(link);
    },
  });
  return [links, clients];
}

/** Each link has one of its own, so that whoever has two is asked once for each. */
const visitCookie = (req: Request, { id }: ClientLinkRow): string =>
  `${isByTls(req) ? '__Host-' : ''}old-echo-listen-${id}`;

function keepVisit(req: Request, res: Response, link: ClientLinkRow, token: string): void {
  res.cookie(visitCookie(req, link), token, {
    httpOnly: true,
    secure: isByTls(req),
    sameSite: 'strict',
    path: '/',
    expires: link.ends_at,
  });
}
