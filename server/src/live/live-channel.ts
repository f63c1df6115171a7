import type { IncomingMessage, Server } from 'node:http';

import type { Logger } from 'pino';
import { type WebSocket, WebSocketServer } from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import type { Value } from '@old-echo/core/desk/setting';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';

import { whyForeign } from '../http/boundary';
import { type Opener, Presence } from './presence';

const LIVE_PATH = '/api/live';
/** Moves are gathered for this long before they are told, in ms: about one frame of a screen. */
const BATCH_MS = 16;
const PING_INTERVAL_MS = 5000;
/** A page that has not answered so many pings in a row is gone. */
const MOST_UNANSWERED = 3;
/** Pages at once, and what may wait for one that does not read, in bytes: some ten times a whole desk. */
const MAX_PAGES = 200;
const MAX_UNREAD_BYTES = 16_000_000;

type LiveEvent =
  | { readonly type: 'link' | 'full-state' | 'refused' }
  | { readonly type: 'settings-changed' | 'hands'; readonly settings: SettingsByAddress };

/** What the live channel hears and asks. */
interface LiveSource {
  /** Calls back whenever a link, the whole state or some settings of a desk have changed. */
  listen(listener: (deskId: string, event: LiveEvent) => void): void;
  /** What a desk holds, as far as it was ever heard. */
  stateOf(deskId: string): State | undefined;
  /** @throws Fault `not-found` */
  viewOf(deskId: string): Promise<DeskView>;
  deskOfProduction(productionId: string): Promise<string | undefined>;
}

/** Tells open pages about the desk they look at: `ws://…/api/live?desk=ID`. */
export class LiveChannel {
  private readonly clients = new Map<WebSocket, string>();
  /** How many pings each page has left unanswered. */
  private readonly unanswered = new Map<WebSocket, number>();
  private readonly presence = new Presence((page, others) => this.send(page, { type: 'people', others }));
  private readonly pendingSettings = new Map<string, Record<string, Value>>();
  /** Per desk the look at it that ends last, and the one that has not begun. */
  private readonly lastLook = new Map<string, Promise<void>>();
  private readonly waiting = new Map<string, Promise<void>>();
  // Pages say where they are, and nothing else.
  private readonly sockets = new WebSocketServer({
    noServer: true,
    perMessageDeflate: { threshold: 2048 },
    maxPayload: 1024,
  });
  private readonly pings: NodeJS.Timeout;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly source: LiveSource,
    readonly log: Logger,
    /** The name or address the server listens on. */
    private readonly ownName: string,
  ) {
    source.listen((deskId, event) => {
      if (event.type === 'link') void this.deskChanged(deskId);
      if (event.type === 'full-state') this.stateChanged(deskId);
      if (event.type === 'settings-changed') this.queueSettings(deskId, event.settings);
    });
    this.pings = setInterval(() => this.ping(), PING_INTERVAL_MS);
  }

  /** @param whoAsks who opens a page */
  attach(server: Server, whoAsks: (request: IncomingMessage) => Promise<Opener>): void {
    server.on('upgrade', (request: IncomingMessage, socket, head) => {
      // A page that goes away meanwhile is nobody's fault.
      socket.on('error', () => socket.destroy());
      const [path, query] = (request.url ?? '').split('?', 2);
      if (path !== LIVE_PATH || whyForeign(request, this.ownName)) return void socket.destroy();
      if (this.sockets.clients.size >= MAX_PAGES)
        return void socket.end('HTTP/1.1 503 Service Unavailable\r\nRetry-After: 5\r\nConnection: close\r\n\r\n');
      const deskId = new URLSearchParams(query).get('desk') ?? '';
      const admit = (opener: Opener) => {
        if (!opener) return void socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        this.sockets.handleUpgrade(request, socket, head, (page) => {
          this.presence.came(page, opener);
          void this.open(page, deskId);
        });
      };
      whoAsks(request).then(admit, () => socket.destroy());
    });
  }

  /** The devices that pages are open on. */
  openDevices(): string[] {
    return this.presence.devices();
  }

  /** Closes all pages on some devices. */
  closeDevices(ids: readonly string[]): void {
    for (const page of this.presence.pagesOn(ids)) page.terminate();
  }

  deskChanged(deskId: string): Promise<void> {
    // One that has not looked yet will see this change too.
    const waiting = this.waiting.get(deskId);
    if (waiting) return waiting;
    const next = this.inOrder(deskId, async () => {
      this.waiting.delete(deskId);
      const desk = await this.source.viewOf(deskId).catch((error: unknown) => this.log.error(error, 'desk view'));
      if (desk) this.broadcast(deskId, { type: 'desk', desk });
    });
    this.waiting.set(deskId, next);
    return next;
  }

  /** Looks at a desk and tells of it after whoever did so before, so that what was read earlier is never told later. */
  private inOrder(deskId: string, look: () => Promise<void>): Promise<void> {
    const next = (this.lastLook.get(deskId) ?? Promise.resolve()).then(look);
    const ended: Promise<void> = next
      .catch(() => undefined)
      .then(() => {
        if (this.lastLook.get(deskId) === ended) this.lastLook.delete(deskId);
      });
    this.lastLook.set(deskId, ended);
    return next;
  }

  /** Tells every page about its desk anew. */
  async desksChanged(): Promise<void> {
    for (const deskId of new Set(this.clients.values())) await this.deskChanged(deskId);
  }

  restoreChanged(restore: RestoreView): void {
    this.broadcast(restore.deskId, { type: 'restore', restore });
  }

  async scenesChanged(productionId: string): Promise<void> {
    const deskId = await this.source
      .deskOfProduction(productionId)
      .catch((error: unknown) => this.log.error(error, 'desk of a production'));
    if (deskId) this.broadcast(deskId, { type: 'scenes-changed', productionId });
  }

  productionsChanged(): void {
    this.tellAll({ type: 'productions-changed' });
  }

  modelsChanged(): void {
    this.tellAll({ type: 'models-changed' });
    for (const deskId of new Set(this.clients.values())) this.stateChanged(deskId);
  }

  close(): void {
    clearInterval(this.pings);
    this.presence.close();
    clearTimeout(this.timer);
    this.clients.forEach((_, page) => page.terminate());
    this.sockets.close();
  }

  private tellAll(message: LiveMessage): void {
    for (const page of this.clients.keys()) this.send(page, message);
  }

  /** Lets go of pages that are gone without a word. */
  private ping(): void {
    for (const page of this.clients.keys()) {
      const pings = this.unanswered.get(page) ?? 0;
      if (pings >= MOST_UNANSWERED) page.terminate();
      this.unanswered.set(page, pings + 1);
      page.ping();
    }
  }

  private async open(page: WebSocket, deskId: string): Promise<void> {
    page.on('error', () => page.terminate());
    page.on('pong', () => this.unanswered.delete(page));
    page.on('close', () => {
      this.clients.delete(page);
      this.unanswered.delete(page);
    });
    try {
      // In order too: what changes while it is looked at is told to this page as well.
      await this.inOrder(deskId, async () => {
        const desk = await this.source.viewOf(deskId);
        this.flush();
        this.clients.set(page, deskId);
        // What it holds before whether it answers: a page never takes old values for those of now.
        const state = this.source.stateOf(deskId);
        if (state) this.send(page, { type: 'full-state', state });
        this.send(page, { type: 'desk', desk });
      });
    } catch {
      page.close(4404, 'no such desk');
    }
  }

  private stateChanged(deskId: string): void {
    const state = this.source.stateOf(deskId);
    if (state) this.broadcast(deskId, { type: 'full-state', state });
  }

  private queueSettings(deskId: string, settings: SettingsByAddress): void {
    this.pendingSettings.set(deskId, { ...this.pendingSettings.get(deskId), ...settings });
    this.timer ??= setTimeout(() => this.flush(), BATCH_MS);
  }

  private flush(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    for (const [deskId, settings] of this.pendingSettings)
      this.broadcast(deskId, { type: 'settings-changed', settings });
    this.pendingSettings.clear();
  }

  private broadcast(deskId: string, message: LiveMessage): void {
    const text = JSON.stringify(message);
    for (const [page, desk] of this.clients) if (desk === deskId) this.sendText(page, text);
  }

  private send(page: WebSocket, message: LiveMessage): void {
    this.sendText(page, JSON.stringify(message));
  }

  /** A page that does not read what it is sent is let go of: it opens again and is told everything anew. */
  private sendText(page: WebSocket, text: string): void {
    if (page.bufferedAmount > MAX_UNREAD_BYTES) page.terminate();
    else page.send(text);
  }
}
