import { type Request, type RequestHandler, type Response, Router } from 'express';
import type { Schema } from 'yup';

import type { AnswerOf, BodyOf, ParamsOf, QueryOf, Route } from '@old-echo/core/contracts/route';
import { parseShape } from '@old-echo/core/fault/parse-shape';

/** A request as its route describes it, read and checked. */
export interface Asked<R extends Route> {
  readonly params: ParamsOf<R>;
  readonly query: QueryOf<R>;
  readonly body: BodyOf<R>;
  readonly req: Request;
  readonly res: Response;
}

/** Says whether whoever asks may ask for a route. @throws Fault where they may not */
export type MayAsk = (route: Route, req: Request) => Promise<void>;

/** Works out what a route answers; one that gives a file sends it itself. */
type Handler<R extends Route> = (asked: Asked<R>) => AnswerOf<R> | Promise<AnswerOf<R>> | FileSent<R>;
type FileSent<R extends Route> = R['shapes'] extends { readonly gives: string } ? void | Promise<void> : never;

/** What a JSON answer of nothing but "done" is. */
export const DONE = {};

const read = (shape: Schema | undefined, from: unknown): unknown => shape && parseShape(shape, from);

/**
 * Serves routes as the table says: reads what is asked, answers with the status and what the handler gives.
 * @param reading how the bodies of routes are read that take no JSON; those not named are left to their handler as a stream
 */
export function serveRoutes<const T extends Readonly<Record<string, Route>>>(
  routes: T,
  handlers: { readonly [Name in keyof T]: Handler<T[Name]> },
  reading: { readonly [Name in keyof T]?: RequestHandler } = {},
): Router {
  const router = Router();
  for (const name of Object.keys(routes) as (keyof T)[]) {
    const [route, handler, reader] = [routes[name], handlers[name], reading[name]];
    if (!route) continue;
    const { query, body, gives, status = 200 } = route.shapes;
    const answer: RequestHandler = async (req, res) => {
      const asked = { params: req.params, query: read(query, req.query), body: read(body, req.body), req, res };
      // Read by the very shapes that its type is inferred from.
      const answered = await handler(asked as unknown as Asked<T[keyof T]>);
      // Somebody may have been told by then that this takes too long.
      if (gives === undefined && !res.headersSent) res.status(status).json(answered);
    };
    const gate: RequestHandler = async (req, res, next) => {
      await (res.locals['mayAsk'] as MayAsk)(route, req);
      next();
    };
    router[route.method](route.path, gate, ...(reader ? [reader] : []), answer);
  }
  return router;
}
