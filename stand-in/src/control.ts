import type { Server } from 'node:http';

import express, { type Request } from 'express';

import type { SimulatedDesk } from './desk';
import type { LineFaults } from './line';

/** What can be done to a desk beside its network, whichever language it speaks. */
interface Handled {
  readonly desk: SimulatedDesk;
  hands(moves: Readonly<Record<string, unknown>>): number;
  misbehave(faults: Partial<LineFaults>): void;
  freeze(frozen: boolean): void;
  refuse(addresses: readonly string[]): void;
}

/** A request with a body that the test beside it wrote. */
type Told<T> = Request<Record<string, string>, unknown, T>;

/**
 * What a person or a test can do to the simulated desk beside the network: put hands on its controls and spoil its line.
 * `POST /moves {"in.1/fader/level": -5}`, `POST /network-faults {"loss": 0.1}`, `POST /freeze {"frozen": true}`,
 * `POST /refuse ["in.1/fader/level"]`, `POST /rounding {"in.1/fader/level": 0.5}`, `GET /settings`.
 */
export async function openControl(front: Handled, port: number, host: string): Promise<Server> {
  const app = express();
  app.use(express.json({ limit: '4mb', strict: true }));
  app.get('/settings', (_, res) => res.json(front.desk.settings()));
  app.post('/moves', (req: Told<Record<string, unknown>>, res) => res.json({ moved: front.hands(req.body) }));
  app.post('/network-faults', (req: Told<object>, res) => {
    front.misbehave(req.body);
    res.json({});
  });
  app.post('/freeze', (req: Told<{ frozen?: boolean }>, res) => {
    front.freeze(req.body.frozen === true);
    res.json({});
  });
  app.post('/refuse', (req: Told<string[]>, res) => {
    front.refuse(req.body);
    res.json({});
  });
  app.post('/rounding', (req: Told<Record<string, number>>, res) => {
    front.desk.round(req.body);
    res.json({});
  });
  return new Promise((resolve, reject) => {
    const server = app.listen(port, host, (error?: Error) => (error ? reject(error) : resolve(server)));
  });
}
