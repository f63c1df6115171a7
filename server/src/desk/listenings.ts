import type { AskedDesk, NewListening } from '@old-echo/core/contracts/listening';
import { Fault } from '@old-echo/core/fault/fault';
import { decodeWidely, encodeMessage } from '@old-echo/desk-link/codec';
import { questionMessage } from '@old-echo/desk-link/mapped-messages';
import { openTransport } from '@old-echo/desk-link/open-transport';
import { WireLog } from '@old-echo/desk-link/wire-log';

import { newId } from '../database/new-id';

/** Desks that are listened to at once, and how long one is that nobody asks about, in ms. */
const MOST = 8;
const FORGOTTEN_MS = 60_000;
/** How long an answer may take, in ms. */
const ANSWER_MS = 600;

/** A desk that is listened to before anyone knows its language. Nothing is sent but what makes it talk. */
class Listening {
  readonly log = new WireLog();
  private readonly transport;
  private readonly saying: NodeJS.Timeout;
  private waiting: { readonly answer: string; readonly found: (isAnswered: boolean) => void } | undefined;
  private forgotten: NodeJS.Timeout;

  constructor(
    { host, port, transport, say, every }: NewListening,
    private readonly onForgotten: () => void,
  ) {
    const messages = say.map(({ address, arguments: args }) => encodeMessage(questionMessage({ address, args })));
    const talk = () => messages.forEach((message) => this.transport.send(message));
    this.transport = openTransport(
      transport,
      { host, port },
      { onReady: talk, onPacket: (bytes) => this.hear(bytes) },
      this.log,
    );
    this.transport.connect();
    talk();
    this.saying = setInterval(() => {
      this.transport.connect();
      talk();
    }, every);
    this.forgotten = setTimeout(onForgotten, FORGOTTEN_MS);
  }

  /** It is not forgotten. */
  used(): void {
    clearTimeout(this.forgotten);
    this.forgotten = setTimeout(this.onForgotten, FORGOTTEN_MS);
  }

  /** After how many ms it answers a question with a value; null where it does not. */
  async answerTime({ address, arguments: args, answer = address }: AskedDesk): Promise<number | null> {
    this.waiting?.found(false);
    const answered = new Promise<boolean>((found) => {
      this.waiting = { answer, found };
      setTimeout(() => found(false), ANSWER_MS);
    });
    const asked = performance.now();
    this.transport.send(encodeMessage(questionMessage({ address, args })));
    return (await answered) ? performance.now() - asked : null;
  }

  async close(): Promise<void> {
    clearInterval(this.saying);
    clearTimeout(this.forgotten);
    await this.transport.close();
  }

  private hear(bytes: Uint8Array): void {
    if (decodeWidely(bytes).some(({ address, args }) => address === this.waiting?.answer && args.length > 0))
      this.waiting?.found(true);
  }
}

/** All that this server listens to. */
export class Listenings {
  private readonly all = new Map<string, Listening>();

  /** @throws Fault `try-later` where too many are listened to */
  open(what: NewListening): string {
    if (this.all.size >= MOST)
      throw new Fault('try-later', 'Too many desks are being learned at once.', 'End one of them, or wait a minute.');
    const id = newId();
    this.all.set(id, new Listening(what, () => void this.close(id)));
    return id;
  }

  /** @throws Fault `not-found` once it was ended, or forgotten */
  of(id: string): Listening {
    const listening = this.all.get(id);
    if (!listening)
      throw new Fault(
        'not-found',
        'This desk is no longer listened to.',
        'Begin to listen again; what was learned stays.',
      );
    listening.used();
    return listening;
  }

  async close(id: string): Promise<void> {
    const listening = this.all.get(id);
    this.all.delete(id);
    await listening?.close();
  }

  async closeAll(): Promise<void> {
    await Promise.all([...this.all.keys()].map((id) => this.close(id)));
  }
}
