import type { Server } from 'node:http';

import express from 'express';

import type { DeskServer } from './front';

/**
 * What a person or a test can do to the simulated desk beside the network: put hands on its controls and spoil its line.
 * `POST /moves {"in.1/fader/level": -5}`, `POST /network-faults {"loss": 0.1}`, `POST /freeze {"frozen": true}`,
 * `POST /refuse ["in.1/fader/level"]`, `POST /rounding {"in.1/fader/level": 0.5}`, `GET /settings`.
 */
export async function openControl(front: DeskServer, port: number, host: string): Promise<Server> {
  const app = express();
  app.use(express.json({ limit: '4mb', strict: true }));
  app.get('/settings', (_, res) => res.json(front.desk.settings()));
  app.post('/moves', (req, res) => res.json({ moved: front.hands(req.body as Record<string, unknown>) }));
  app.post('/network-faults', (req, res) => {
    front.misbehave(req.body as object);
    res.json({});
  });
  app.post('/freeze', (req, res) => {
    front.freeze((req.body as { frozen?: boolean }).frozen === true);
    res.json({});
  });
  app.post('/refuse', (req, res) => {
    front.refuse(req.body as string[]);
    res.json({});
  });
  app.post('/rounding', (req, res) => {
    front.desk.round(req.body as Record<string, number>);
    res.json({});
  });
  return new Promise((resolve, reject) => {
    const server = app.listen(port, host, (error?: Error) => (error ? reject(error) : resolve(server)));
  });
}
