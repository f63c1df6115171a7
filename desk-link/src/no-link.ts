import type { Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { DeskLink, LinkEvent } from './link';

/** The link of a desk that is not to be reached: it never answers, and says why. */
export class NoLink implements DeskLink {
  readonly linked = false;
  readonly wireLog = undefined;

  constructor(
    readonly profile: Profile,
    private readonly why: string,
    private readonly advice: string,
  ) {}

  readAll = (): Promise<never> => this.refuse();
  read = (): Promise<never> => this.refuse();
  caughtUp = (): Promise<never> => this.refuse();
  write = (): Promise<never> => this.refuse();

  listen(listener: (event: LinkEvent) => void): () => void {
    listener({ type: 'unlinked', why: this.why });
    return () => undefined;
  }

  close = (): Promise<void> => Promise.resolve();

  private refuse(): Promise<never> {
    return Promise.reject(new Fault('link-lost', this.why, this.advice));
  }
}
