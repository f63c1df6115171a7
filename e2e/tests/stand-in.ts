import { request } from '@playwright/test';

import { stage } from './stage';

export type Settings = Record<string, unknown>;

/** The stand-in's own control port: what it really holds, and hands on it. */
export class StandIn {
  constructor(private readonly id: 'quay-48' | 'boathouse' | 'skiff-16') {}

  private url = (path: string): string => `http://127.0.0.1:${stage.desks[this.id]}${path}`;

  private async post(path: string, data: unknown): Promise<void> {
    const context = await request.newContext();
    await context.post(this.url(path), { data });
    await context.dispose();
  }

  async settings(): Promise<Settings> {
    const context = await request.newContext();
    const settings = (await (await context.get(this.url('/settings'))).json()) as Settings;
    await context.dispose();
    return settings;
  }

  hands = (moves: Settings): Promise<void> => this.post('/moves', moves);
  freeze = (frozen: boolean): Promise<void> => this.post('/freeze', { frozen });
  line = (faults: object): Promise<void> => this.post('/network-faults', faults);
}

/** The addresses at which two desks differ. */
export const differing = (a: Settings, b: Settings): string[] =>
  Object.keys(a).filter((address) => JSON.stringify(a[address]) !== JSON.stringify(b[address]));
